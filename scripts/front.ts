import { createServer, request, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';

export interface Front {
  readonly port: number;
  readonly close: () => void;
}

/**
 * A proxy on loopback that gives each request to the next of several servers: what one of them knows and another does
 * not shows at once.
 */
export async function frontOf(ports: readonly number[]): Promise<Front> {
  let next = 0;
  const server: Server = createServer((incoming, outgoing) => {
    const port = ports[next % ports.length]!;
    next += 1;
    const passed = request(
      { host: '127.0.0.1', port, method: incoming.method, path: incoming.url, headers: incoming.headers },
      (answer) => {
        outgoing.writeHead(answer.statusCode ?? 502, answer.headers);
        answer.pipe(outgoing);
      },
    );
    passed.on('error', () => outgoing.destroy());
    outgoing.on('close', () => passed.destroy());
    incoming.pipe(passed);
  });
  server.listen(0, '127.0.0.1');
  await new Promise((listening) => {
    server.once('listening', listening);
  });
  return {
    port: (server.address() as AddressInfo).port,
    close: () => {
      server.closeAllConnections();
      server.close();
    },
  };
}
