import { fork, type ChildProcess } from 'node:child_process';
import { join } from 'node:path';
import type { Readable } from 'node:stream';

/** A run of text on a page: its lower left corner from that of the page, and its size, in points. */
export interface Placed {
  readonly text: string;
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}
interface Page {
  readonly text: string;
  readonly placed: readonly Placed[];
}
type Read = { readonly id: number; readonly pages?: readonly Page[]; readonly error?: string };

let reader: ChildProcess | null = null;
let asked = 0;

/** The process that reads, begun once a test file; it ends with the one that asks. */
function reading(): ChildProcess {
  if (reader === null) {
    reader = fork(join(import.meta.dirname, 'pdf-reader.mjs'), [], { execArgv: [] });
    reader.unref();
    reader.channel?.unref();
  }
  return reader;
}

/** What stands on each page of a PDF. */
function read(pdf: Buffer): Promise<readonly Page[]> {
  const child = reading();
  asked += 1;
  const own = asked;
  return new Promise((resolve, reject) => {
    const answered = ({ id, pages, error }: Read): void => {
      if (id !== own) return;
      child.off('message', answered);
      if (pages === undefined) reject(new Error(`no PDF: ${error}`));
      else resolve(pages);
    };
    child.on('message', answered);
    child.send({ id: own, pdf: pdf.toString('base64') });
  });
}

/** Text of a PDF as its reader would select it, with single spaces; one string a page. */
export const pdfPages = async (pdf: Buffer): Promise<string[]> =>
  (await read(pdf)).map(({ text }) => text.replace(/\s+/g, ' ').trim());

async function whole(sheet: Readable | Promise<Readable>): Promise<Buffer> {
  const chunks: Buffer[] = [];
  for await (const chunk of sheet as AsyncIterable<Buffer>) chunks.push(chunk);
  return Buffer.concat(chunks);
}

/** The same of a sheet that is still being written. */
export const sheetPages = async (sheet: Readable | Promise<Readable>): Promise<string[]> =>
  pdfPages(await whole(await sheet));

/** Where each run of text of a sheet stands; one list a page. */
export const sheetPlaced = async (sheet: Readable | Promise<Readable>): Promise<(readonly Placed[])[]> =>
  (await read(await whole(await sheet))).map(({ placed }) => placed);
