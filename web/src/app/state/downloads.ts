import type { Design } from '@unirota/core/document';

/**
 * A name that every system and the server take for a file: letters, digits, spaces, - and _, beginning with a letter or digit.
 */
export const cleanName = (name: string): string =>
  name
    .replace(/[^\p{L}\p{N} _-]+/gu, '')
    .replace(/^[ _-]+/, '')
    .trim();

/** Gives a file to the person. */
export function downloadFile(content: Blob, name: string, extension: string): void {
  const url = URL.createObjectURL(content);
  const a = document.createElement('a');
  a.href = url;
  a.download = `${cleanName(name) || 'design'}.${extension}`;
  a.click();
  setTimeout(() => URL.revokeObjectURL(url), 10_000);
}

/** Gives a document to the person as a file: always possible, whatever has become of server and storage. */
export function downloadJson(content: Design | object, name: string): void {
  downloadFile(new Blob([JSON.stringify(content, null, 1)], { type: 'application/json' }), name, 'json');
}

export function downloadCsv(text: string, name: string): void {
  downloadFile(new Blob([text], { type: 'text/csv' }), name, 'csv');
}

const STYLES = ['fill', 'stroke', 'stroke-width', 'stroke-dasharray', 'opacity', 'font-family', 'font-size', 'font-weight'] as const;

/**
 * A drawing as it looks on the page, alone: with what the page's
 * styles say written into it, and without what `leave` selects.
 */
export function drawingText(svg: SVGSVGElement, leave?: string): string {
  const copy = svg.cloneNode(true) as SVGSVGElement;
  const from = svg.querySelectorAll<SVGElement>('*'),
    to = copy.querySelectorAll<SVGElement>('*');
  from.forEach((el, i) => {
    const s = getComputedStyle(el);
    for (const key of STYLES) to[i].style.setProperty(key, s.getPropertyValue(key));
  });
  if (leave) for (const el of copy.querySelectorAll(leave)) el.remove();
  const { width, height } = svg.viewBox.baseVal;
  copy.setAttribute('xmlns', 'http://www.w3.org/2000/svg');
  copy.setAttribute('width', String(width));
  copy.setAttribute('height', String(height));
  copy.style.background = getComputedStyle(svg).backgroundColor;
  return new XMLSerializer().serializeToString(copy);
}

export function downloadDrawing(svg: SVGSVGElement, name: string): void {
  downloadFile(new Blob([drawingText(svg)], { type: 'image/svg+xml' }), name, 'svg');
}

/** The drawing as an image, for drawing it elsewhere. */
export async function imageOf(svg: SVGSVGElement, leave?: string): Promise<HTMLImageElement> {
  const picture = new Image();
  picture.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(drawingText(svg, leave))}`;
  await picture.decode();
  return picture;
}

/** The drawing as a picture of twice its size. */
export async function downloadPicture(svg: SVGSVGElement, name: string): Promise<void> {
  const { width, height } = svg.viewBox.baseVal;
  const picture = await imageOf(svg);
  const canvas = document.createElement('canvas');
  [canvas.width, canvas.height] = [2 * width, 2 * height];
  canvas.getContext('2d')!.drawImage(picture, 0, 0, canvas.width, canvas.height);
  const blob = await new Promise<Blob | null>((done) => canvas.toBlob(done, 'image/png'));
  if (blob) downloadFile(blob, name, 'png');
}
