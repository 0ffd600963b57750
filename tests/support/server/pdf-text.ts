/** The words on the sheets of a PDF that was made here: what is shown by each of its operators. */
import {
  decodePDFRawStream,
  PDFArray,
  PDFDocument,
  PDFRawStream,
  type PDFObject,
  type PDFPage,
} from 'pdf-lib';

function contentsOf(page: PDFPage): string {
  const { Contents } = page.node.normalizedEntries();
  const streams: PDFObject[] = Contents instanceof PDFArray ? Contents.asArray() : [];
  return streams
    .map((each) => page.doc.context.lookup(each))
    .filter((stream) => stream instanceof PDFRawStream)
    .map((stream) => Buffer.from(decodePDFRawStream(stream).decode()).toString('latin1'))
    .join('\n');
}

const shown = (content: string): string[] =>
  [...content.matchAll(/<([0-9A-F]*)> Tj/gi)].map(([, hex]) =>
    Buffer.from(hex!, 'hex').toString('latin1'),
  );

/** Of each sheet its lines, as they were set. */
export async function linesOfPdf(bytes: Uint8Array): Promise<string[][]> {
  const pdf = await PDFDocument.load(bytes);
  return pdf.getPages().map((page) => shown(contentsOf(page)));
}
