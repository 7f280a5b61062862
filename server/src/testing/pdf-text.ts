import { fork, type ChildProcess } from 'node:child_process';
import { join } from 'node:path';
import type { Readable } from 'node:stream';

type Read = { readonly id: number; readonly pages?: string[]; readonly error?: string };

let reader: ChildProcess | null = null;
let asked = 0;

/** The process that reads, begun once a test file; it ends with the one that asks. */
function reading(): ChildProcess {
  if (reader === null) {
    reader = fork(join(__dirname, 'pdf-reader.mjs'), [], { execArgv: [] });
    reader.unref();
    reader.channel?.unref();
  }
  return reader;
}

/** Text of a PDF as its reader would select it, with single spaces; one string a page. */
export function pdfPages(pdf: Buffer): Promise<string[]> {
  const child = reading();
  asked += 1;
  const own = asked;
  return new Promise((resolve, reject) => {
    const answered = ({ id, pages, error }: Read): void => {
      if (id !== own) return;
      child.off('message', answered);
      if (pages === undefined) reject(new Error(`no PDF: ${error}`));
      else resolve(pages.map((page) => page.replace(/\s+/g, ' ').trim()));
    };
    child.on('message', answered);
    child.send({ id: own, pdf: pdf.toString('base64') });
  });
}

/** The same of a sheet that is still being written. */
export async function sheetPages(sheet: Readable): Promise<string[]> {
  const chunks: Buffer[] = [];
  for await (const chunk of sheet as AsyncIterable<Buffer>) chunks.push(chunk);
  return pdfPages(Buffer.concat(chunks));
}
