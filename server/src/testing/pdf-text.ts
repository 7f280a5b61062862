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
/** What stands on each page of a PDF. The reader is loaded for the first one. */
async function read(pdf: Buffer): Promise<readonly Page[]> {
  const { getDocument } = await import('pdfjs-dist/legacy/build/pdf.mjs');
  const file = await getDocument({ data: new Uint8Array(pdf), verbosity: 0 }).promise;
  const pages: Page[] = [];
  for (let number = 1; number <= file.numPages; number += 1) {
    const { items } = await (await file.getPage(number)).getTextContent();
    const runs = items.filter((item) => 'str' in item);
    pages.push({
      text: runs.map(({ str }) => str).join(' '),
      placed: runs
        .filter(({ str }) => str.trim() !== '')
        .map(({ str, transform, width, height }) => {
          const [, , , , x, y] = transform as number[];
          return { text: str, x: x!, y: y!, width, height };
        }),
    });
  }
  await file.destroy();
  return pages;
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
