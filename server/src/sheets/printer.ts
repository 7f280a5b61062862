import type { Readable } from 'node:stream';
import { complaintSheetPdf } from './complaint-sheet.ts';
import { purchaseSheetPdf } from './purchase-sheet.ts';
import { walkSheetPdf } from './walk-sheet.ts';

/** Sheets by name, each with what it is made of. */
const SHEETS = { walk: walkSheetPdf, purchase: purchaseSheetPdf, complaint: complaintSheetPdf } as const;
export type SheetName = keyof typeof SHEETS;
export type SheetOf<Name extends SheetName> = Parameters<(typeof SHEETS)[Name]>;

/** Makes sheets: in the caller's own thread, or on one of their own. */
export interface Printer {
  readonly print: <Name extends SheetName>(name: Name, ...of: SheetOf<Name>) => Promise<Readable>;
}

/** A sheet as PDF, as a stream. */
export const printHere: Printer['print'] = (name, ...of) =>
  (SHEETS[name] as (...given: SheetOf<typeof name>) => Promise<Readable>)(...of);

/** A sheet as PDF, whole. */
export async function printed<Name extends SheetName>(name: Name, of: SheetOf<Name>): Promise<Uint8Array> {
  const pieces: Buffer[] = [];
  for await (const piece of await printHere(name, ...of)) pieces.push(piece as Buffer);
  return new Uint8Array(Buffer.concat(pieces));
}
