// Reads PDFs for tests in a process of its own, since pdf.js comes as a module alone, which Jest does not load.
import { getDocument } from 'pdfjs-dist/legacy/build/pdf.mjs';

process.on('message', async ({ id, pdf }) => {
  try {
    const file = await getDocument({ data: new Uint8Array(Buffer.from(pdf, 'base64')), verbosity: 0 }).promise;
    const pages = [];
    for (let number = 1; number <= file.numPages; number += 1) {
      const { items } = await (await file.getPage(number)).getTextContent();
      pages.push({
        text: items.map(({ str }) => str).join(' '),
        placed: items
          .filter(({ str }) => str.trim() !== '')
          .map(({ str, transform, width, height }) => ({ text: str, x: transform[4], y: transform[5], width, height })),
      });
    }
    process.send({ id, pages });
  } catch (error) {
    process.send({ id, error: String(error) });
  }
});
