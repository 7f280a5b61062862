import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';

const require = createRequire(import.meta.url);
type Fonts = Readonly<Record<'head' | 'text' | 'strong', Buffer>>;

/** The two typefaces of the interface. The text's has Latin, Cyrillic and Greek letters, the heading's Latin ones. */
const FONT_FILES = {
  head: '@fontsource/barlow-condensed/files/barlow-condensed-latin-600-normal.woff2',
  text: '@expo-google-fonts/source-sans-3/400Regular/SourceSans3_400Regular.ttf',
  strong: '@expo-google-fonts/source-sans-3/600SemiBold/SourceSans3_600SemiBold.ttf',
} as const;

let fonts: Promise<Fonts> | null = null;

/** Reads the typefaces once. The heading's is unpacked here: the writer of PDF would take a second for every sheet. */
async function loadFonts(): Promise<Fonts> {
  const { decompress } = await import('wawoff2');
  const bytesOf = (path: string): Buffer => readFileSync(require.resolve(path));
  return {
    head: Buffer.from(await decompress(bytesOf(FONT_FILES.head))),
    text: bytesOf(FONT_FILES.text),
    strong: bytesOf(FONT_FILES.strong),
  };
}

/** A typeface as the writer of PDF has opened it. */
interface OpenFont {
  readonly name: string;
  readonly font?: { readonly hasGlyphForCodePoint: (point: number) => boolean };
}
/** Letters that no typeface of a sheet has; its foot tells of them. */
const missing = new WeakMap<PDFKit.PDFDocument, Set<string>>();

/**
 * Writes each text in a typeface that has its letters: a heading in another alphabet takes the text's. A letter that
 * none has is written as a box, and told in the foot.
 */
function withEveryLetter(sheet: PDFKit.PDFDocument): void {
  const write = sheet.text.bind(sheet) as (words: string, ...more: unknown[]) => PDFKit.PDFDocument;
  const open = (): OpenFont => (sheet as unknown as { _font: OpenFont })._font;
  const lacks = (letter: string): boolean =>
    !/\s/.test(letter) && open().font?.hasGlyphForCodePoint(letter.codePointAt(0)!) === false;
  const unknown = new Set<string>();
  missing.set(sheet, unknown);
  const patched = (words: string, ...more: unknown[]): PDFKit.PDFDocument => {
    const letters = [...String(words)];
    if (!letters.some(lacks)) return write(words, ...more);
    const before = open().name;
    sheet.font('strong');
    if (before.startsWith('SourceSans3-Regular')) sheet.font('text');
    const shown = letters.map((letter) => {
      if (!lacks(letter)) return letter;
      unknown.add(letter);
      return '\u25a1';
    });
    return write(shown.join(''), ...more);
  };
  sheet.text = patched;
}

/** Points: an A4 page in portrait, and the margin that a clip board and a printer leave. */
export const PAGE = { width: 595.28, height: 841.89, margin: 40 } as const;
export const INNER = PAGE.width - 2 * PAGE.margin;

/** What the foot of a page takes, points. */
const FOOT = 34;

export const INK = '#23211d';
export const SOFT = '#5d584e';
export const RULE = '#b9b2a3';

export type Sheet = PDFKit.PDFDocument;

/** A new A4 document with our typefaces; its pages are kept until the end, so that each can say how many there are. */
export async function newSheet(title: string): Promise<Sheet> {
  // The writer of PDF takes a third of a second to load, and is loaded for the first sheet.
  const { default: PDFDocument } = await import('pdfkit');
  const sheet = new PDFDocument({
    size: 'A4',
    // What runs on, runs on above the foot.
    margins: { top: PAGE.margin, bottom: PAGE.margin + FOOT, left: PAGE.margin, right: PAGE.margin },
    bufferPages: true,
    info: { Title: title, Creator: 'Crosspeen' },
    lang: 'en',
    displayTitle: true,
  });
  fonts ??= loadFonts();
  for (const [name, bytes] of Object.entries(await fonts)) sheet.registerFont(name, bytes);
  withEveryLetter(sheet);
  return sheet.font('text').fontSize(10).fillColor(INK);
}

/** Starts a new page where fewer points than these are left above the foot. */
export function roomFor(sheet: Sheet, points: number): void {
  if (sheet.y + points > PAGE.height - PAGE.margin - FOOT) sheet.addPage();
}

/** Complaints that hold the vehicle, before anything else is said of it. */
export function heldBy(sheet: Sheet, holds: readonly { readonly words: string; readonly stop: string | null }[]): void {
  for (const { words, stop } of holds)
    sheet.moveDown(0.3).font('strong').text(`HOLD. ${words}: ${stop}`, { width: INNER }).font('text');
}

/** Begins a part of a sheet, with a rule under its words. */
export const heading = (sheet: Sheet, words: string): void => {
  roomFor(sheet, 60);
  sheet.moveDown(0.6).font('head').fontSize(15).fillColor(INK).text(words, PAGE.margin, sheet.y);
  sheet
    .moveTo(PAGE.margin, sheet.y)
    .lineTo(PAGE.width - PAGE.margin, sheet.y)
    .lineWidth(1)
    .stroke(INK);
  sheet.y += 4;
  sheet.font('text').fontSize(10.5);
};

/** Writes the same foot on every page, with its number, and ends the document. */
export function finished(sheet: Sheet, foot: string): Sheet {
  const { start, count } = sheet.bufferedPageRange();
  const letters = [...(missing.get(sheet) ?? [])].slice(0, 8);
  const toldMissing =
    letters.length === 0
      ? ''
      : ` Letters that cannot be printed stand as a box: ${letters.map((letter) => `U+${letter.codePointAt(0)!.toString(16).toUpperCase().padStart(4, '0')}`).join(', ')}.`;
  for (let page = start; page < start + count; page += 1) {
    sheet.switchToPage(page);
    const y = PAGE.height - PAGE.margin - FOOT + 10;
    // The foot lies in the margin: without this a new page would begin below it.
    sheet.page.margins.bottom = 0;
    sheet
      .moveTo(PAGE.margin, y - 4)
      .lineTo(PAGE.width - PAGE.margin, y - 4)
      .lineWidth(0.5)
      .stroke(RULE);
    sheet.font('text').fontSize(7.5).fillColor(SOFT);
    sheet.text(`${foot}${toldMissing}`, PAGE.margin, y, { width: INNER - 60, lineGap: -1 });
    sheet.text(`${page - start + 1} of ${count}`, PAGE.width - PAGE.margin - 60, y, { width: 60, align: 'right' });
  }
  sheet.end();
  return sheet;
}
