import { getDocument } from 'pdfjs-dist/legacy/build/pdf.mjs';

/** What another program finds in a PDF. */
export interface ReadPdf {
  pages: string[];
  outline: string[];
  title: string;
  sizes: [width: number, height: number][];
}
/** The text of a PDF as another program finds it, page by page. */
export async function readPdf(bytes: Uint8Array): Promise<ReadPdf> {
  const task = getDocument({ data: bytes.slice(), verbosity: 0 });
  const pdf = await task.promise;
  const out: ReadPdf = { pages: [], outline: [], title: '', sizes: [] };
  for (let k = 1; k <= pdf.numPages; k++) {
    const page = await pdf.getPage(k);
    const { items } = await page.getTextContent();
    out.pages.push(
      items
        .flatMap((i) => ('str' in i ? [i.str] : []))
        .join(' ')
        .replace(/\s+/g, ' '),
    );
    const [, , w, h] = page.view;
    out.sizes.push([w, h]);
  }
  out.outline = ((await pdf.getOutline()) as { title: string }[] | null)?.map((o) => o.title) ?? [];
  out.title = ((await pdf.getMetadata()).info as { Title?: string }).Title ?? '';
  await task.destroy();
  return out;
}
