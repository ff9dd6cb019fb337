/** The parts of #rrggbb, 0 … 255. */
export const partsOfColour = (hex: string): [number, number, number] =>
  [1, 3, 5].map((i) => parseInt(hex.slice(i, i + 2), 16)) as [number, number, number];

/** #rrggbb of red, green and blue, 0 … 1; what is beyond is taken to the end. */
export const colourOfParts = (parts: readonly number[]): string =>
  `#${parts
    .slice(0, 3)
    .map((x) =>
      Math.round(255 * Math.min(1, Math.max(0, x)))
        .toString(16)
        .padStart(2, '0'),
    )
    .join('')}`;

/** Whether a text is #rrggbb. */
export const isColour = (text: string | undefined): text is string => /^#[0-9a-f]{6}$/.test(text ?? '');

/** The linear value of an sRGB byte, 0 … 1 (IEC 61966-2-1). */
export function linearOfByte(byte: number): number {
  const s = byte / 255;
  return s <= 0.04045 ? s / 12.92 : ((s + 0.055) / 1.055) ** 2.4;
}

/** The sRGB value of a linear one, 0 … 1 (IEC 61966-2-1). */
export const srgbOfLinear = (x: number): number => (x <= 0.0031308 ? 12.92 * x : 1.055 * x ** (1 / 2.4) - 0.055);
