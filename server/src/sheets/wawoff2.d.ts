declare module 'wawoff2' {
  /** Unpacks a WOFF2 font into its TrueType form. */
  export function decompress(font: Uint8Array): Promise<Uint8Array>;
}
