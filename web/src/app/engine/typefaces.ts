import type { PdfFonts } from '@unirota/core/pdf';

let fonts: Promise<PdfFonts> | undefined;
/** The typefaces of what is printed, fetched when they are first needed. */
export function fontsFrom(folder: string, files: Record<keyof PdfFonts, string>): Promise<PdfFonts> {
  const bytes = async (key: keyof PdfFonts): Promise<Uint8Array> => {
    const answer = await fetch(new URL(files[key].replace(/^.*\//, ''), folder));
    if (!answer.ok) throw new Error(`its typeface is not there (${answer.status})`);
    return new Uint8Array(await answer.arrayBuffer());
  };
  const all = async (): Promise<PdfFonts> => {
    const [regular, bold, greek, greekBold] = await Promise.all((['regular', 'bold', 'greek', 'greekBold'] as const).map(bytes));
    return { regular, bold, greek, greekBold };
  };
  fonts ??= all();
  fonts.catch(() => (fonts = undefined));
  return fonts;
}
