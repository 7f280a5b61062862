import { createInterface } from 'node:readline';
import { answerLine } from '@crosspeen/door';

/** The core's door: one JSON request a line on standard input, one answer a line on standard output. */
export async function coreDoor(): Promise<void> {
  for await (const line of createInterface({ input: process.stdin, crlfDelay: Infinity })) {
    if (line.trim() !== '') process.stdout.write(`${answerLine(line)}\n`);
  }
}
