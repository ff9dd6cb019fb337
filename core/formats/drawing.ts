export type DrawingUnit = 'mm' | 'in';

/** Millimetres of a unit. */
export const UNIT: Readonly<Record<DrawingUnit, number>> = { mm: 1, in: 25.4 };

/** Decimals of a length in a drawing: a hundredth of a micrometre, in either unit. */
export const shown = (x: number, unit: DrawingUnit): number => Number((x / UNIT[unit]).toFixed(unit === 'mm' ? 5 : 7));

/** A text as it stands in XML. */
export const xmlText = (text: string): string => text.replace(/\p{Cc}/gu, ' ').replace(/[<>&"]/g, (c) => `&#${c.charCodeAt(0)};`);
