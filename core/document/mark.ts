import type { Design } from '../fields/types';
import { PART_KEYS } from '../fields/common';
import { MECHANICS_LISTS } from './form';

/** What of a design decides motion and forces. */
const PARTS = [...MECHANICS_LISTS, 'cases'] as const;

/**
 * A mark of a design's mechanics: two states with the same mark move and load alike. FNV-1a
 * over their text, 64 bits as hexadecimal digits (Fowler, Noll, Vo; constants from memory).
 * Names of items count, as findings and sheets show them; views, runs, sheets, notes and what parts lists say do not.
 */
export function mechanicsMark(design: Design): string {
  const words: readonly string[] = PART_KEYS;
  const text = JSON.stringify([...PARTS.map((k) => design[k] ?? []), design.settings?.gravity ?? null], (key, value: unknown) =>
    words.includes(key) ? undefined : value,
  );
  return markOf(text);
}

/** FNV-1a of a text, 64 bits as hexadecimal digits. */
export function markOf(text: string): string {
  let hi = 0xcbf29ce4,
    lo = 0x84222325;
  for (let i = 0; i < text.length; i++) {
    lo ^= text.charCodeAt(i);
    // Times 2⁴⁰ + 2⁸ + 0xb3, in two halves of 32 bits.
    const low = lo >>> 0;
    const product = (low & 0xffff) * 0x1b3;
    const upper = (low >>> 16) * 0x1b3 + (product >>> 16);
    hi = (Math.imul(hi, 0x1b3) + (upper >>> 16) + (low << 8)) | 0;
    lo = ((upper & 0xffff) << 16) | (product & 0xffff);
  }
  return [hi, lo].map((x) => (x >>> 0).toString(16).padStart(8, '0')).join('');
}
