import type { FastifyBaseLogger } from 'fastify';

/**
 * A promise that nobody waited for, or an error that nobody listened to, is a fault of ours to be found in the log; it
 * is no reason for everybody else's work to end. Returns how to stop listening.
 */
export function outlive(log: Pick<FastifyBaseLogger, 'error'>): () => void {
  const rejected = (reason: unknown): void =>
    log.error({ err: reason }, 'nobody waited for this and it failed; the server goes on');
  const thrown = (error: unknown): void => log.error({ err: error }, 'nobody caught this; the server goes on');
  process.on('unhandledRejection', rejected);
  process.on('uncaughtException', thrown);
  return () => {
    process.off('unhandledRejection', rejected);
    process.off('uncaughtException', thrown);
  };
}
