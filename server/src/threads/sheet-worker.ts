import { printed, type SheetName, type SheetOf } from '../sheets/printer.ts';

/** A thread that makes sheets: nobody else waits while one of many pages is laid out. */
export default ({ name, of }: { readonly name: SheetName; readonly of: SheetOf<SheetName> }): Promise<Uint8Array> =>
  printed(name, of);
