import type { Browser } from '@playwright/test';
import { spawn, type ChildProcess } from 'node:child_process';
import { setTimeout as sleep } from 'node:timers/promises';

/**
 * Where the abuse happens: a state of its own, reached only through the commands and the HTTP door that everybody has.
 */
export interface AbuseBench {
  /** The program that takes the commands. */
  readonly program: string;
  /** An empty folder of its own; what is in it is deleted. */
  readonly folder: string;
  readonly accounts: readonly { readonly name: string; readonly password: string; readonly role: string }[];
  /** Makes `folder` a disk of so many MB, and answers how to take that away again; null where this user may not. */
  readonly smallDisk: (folder: string, megabytes: number) => (() => void) | null;
  /** Starts a browser. */
  readonly browser: () => Promise<Browser>;
  readonly say: (line: string) => void;
}

export interface AbuseCount {
  tries: number;
  readonly failures: string[];
}

/** A start after a kill that takes longer is counted as a failure, in seconds. */
export const RESTART_SECONDS = 10;

interface Ran {
  readonly code: number | null;
  readonly seconds: number;
  readonly text: string;
}

/** A shop that is started, ended and asked as people do it. */
export class Shop {
  private child: ChildProcess | null = null;
  private headers: Record<string, string> = {};

  constructor(
    private readonly bench: AbuseBench,
    readonly state: string,
    private readonly port: number,
  ) {}

  get address(): string {
    return `http://127.0.0.1:${this.port}`;
  }

  private begin(words: readonly string[]): ChildProcess {
    return spawn(this.bench.program, words, {
      detached: true,
      stdio: ['ignore', 'pipe', 'pipe'],
      env: { ...process.env, CROSSPEEN_STATE: this.state },
    });
  }

  /** Runs a command to its end, or for `killAfter` milliseconds. */
  async run(words: readonly string[], killAfter?: number): Promise<Ran> {
    const began = performance.now();
    const child = this.begin(words);
    let text = '';
    for (const stream of [child.stdout!, child.stderr!])
      stream.on('data', (part: Buffer) => {
        text += part.toString();
      });
    const killed =
      killAfter === undefined ? undefined : setTimeout(() => process.kill(-child.pid!, 'SIGKILL'), killAfter);
    const code = await new Promise<number | null>((resolve) => {
      child.once('close', resolve);
    });
    clearTimeout(killed);
    return { code, seconds: (performance.now() - began) / 1000, text };
  }

  /**
   * Starts it and waits until it answers; the seconds that took, or null when it does not within `patience` seconds.
   */
  async start(patience = 180): Promise<number | null> {
    const began = performance.now();
    const child = this.begin(['demo', '--port', String(this.port)]);
    for (const stream of [child.stdout!, child.stderr!]) stream.resume();
    this.child = child;
    if (!(await this.answers(patience))) return null;
    return (performance.now() - began) / 1000;
  }

  /** Kills the command that starts it, so many milliseconds after it has begun, before it may have ended by itself. */
  async startAndKill(afterMs: number): Promise<void> {
    await this.run(['demo', '--port', String(this.port)], afterMs);
  }

  async stop(): Promise<void> {
    await this.run(['stop']);
    this.child = null;
  }

  /** Waits until it says that it is well. */
  async answers(seconds: number): Promise<boolean> {
    const until = Date.now() + seconds * 1000;
    while (Date.now() < until) {
      if (
        await fetch(`${this.address}/api/health`, { signal: AbortSignal.timeout(2000) }).then(
          ({ ok }) => ok,
          () => false,
        )
      )
        return true;
      await sleep(50);
    }
    return false;
  }

  /** The processes that serve: [server, PostgreSQL], or null for one that does not run. */
  async pids(): Promise<(number | null)[]> {
    const { text } = await this.run(['status']);
    return ['server', 'PostgreSQL'].map((what) => {
      const found = new RegExp(`^${what} .*\\(process (\\d+)\\)`, 'm').exec(text);
      return found ? Number(found[1]) : null;
    });
  }

  /** What one question to the database is answered with. */
  async sql(question: string): Promise<string> {
    return (await this.run(['psql', '-Atc', question])).text.trim();
  }

  async signIn(role: string): Promise<void> {
    const { name, password } = this.bench.accounts.find((account) => account.role === role)!;
    const answer = await this.send('POST', '/api/session', { name, password });
    const { csrfToken } = (await answer.json()) as { csrfToken: string };
    this.headers = { cookie: answer.headers.get('set-cookie')!.split(';')[0]!, 'x-csrf-token': csrfToken };
  }

  send(
    method: string,
    path: string,
    body?: object | string | Buffer,
    { headers = {}, signal }: { readonly headers?: Record<string, string>; readonly signal?: AbortSignal } = {},
  ): Promise<Response> {
    const raw = typeof body === 'string' || Buffer.isBuffer(body);
    return fetch(`${this.address}${path}`, {
      method,
      headers: {
        ...this.headers,
        ...(body === undefined || raw ? {} : { 'content-type': 'application/json' }),
        ...headers,
      },
      ...(body === undefined ? {} : { body: raw ? (body as string) : JSON.stringify(body) }),
      ...(signal ? { signal } : {}),
    });
  }
}

export const count = (): AbuseCount => ({ tries: 0, failures: [] });

export const between = (from: number, to: number): number => from + Math.random() * (to - from);
