import { byReason, ratingOf } from '../core/engine';
import { listed } from '../core/units/index';
import type { Design } from '../core/document/index';
import { writeTable } from '../core/formats/index';

/**
 * What teeth, shafts, bearings and screws of a design bear, as a table; what is not rated, in sentences; how many are
 * below what is wanted.
 */
export function rateDesign(design: Design): { text: string; notes: string[]; failed: number } {
  const { lines, unrated } = ratingOf(design);
  return {
    text: writeTable(
      ['part', 'what', 'load case or run', 'safety or life', 'unit', 'wanted', 'load reserve', 'method'],
      lines.map((l) => [l.name, l.what, l.case, l.value, l.unit ?? '', l.wanted, l.reserve, l.method]),
    ),
    notes: byReason(unrated).map(({ why, parts }) => `Not rated: ${listed(parts.map((u) => u.name))}: ${why}.`),
    failed: lines.filter((l) => l.reserve < 1).length,
  };
}
