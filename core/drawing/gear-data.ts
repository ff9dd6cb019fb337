import type { Worked } from '../checks/index';
import { FRAME } from '../fields/types';
import { type Cell, heading, gearTables, shownIn } from '../tables/index';
import type { Units } from '../units/index';
import type { DrawnBody } from './bodies';
import type { GearTable } from './form';

/**
 * The wheels of a drawing as its table of gear data: figures of ISO 1340 and ISO 1341, a column a wheel, as many as have room;
 * and how many are left out.
 */
export function gearData(worked: Worked, bodies: readonly DrawnBody[], units: Units, most: number): { table?: GearTable; left: number } {
  // Tables have names alone: two wheels of different members may share one.
  const memberOf = new Map(worked.compiled.design.members.map((m) => [m.id, m.name]));
  const key = (wheel: string, member: string): string => `${wheel}\n${member}`;
  const drawn = new Set(
    bodies
      .filter((b) => b.type === 'gear' || b.type === 'bevel-gear')
      .map((b) => key(b.name, b.member === FRAME ? 'Frame' : (memberOf.get(b.member) ?? b.member))),
  );
  if (!drawn.size) return { left: 0 };
  const cell = (c: Cell): string => (c === undefined ? '' : typeof c === 'number' ? units.number(c, '', 6) : c);
  // Factors of the profile stand in the heading: a column is narrow.
  const factors = (text: string): string => (text.match(/\d[\d.]*/g) ?? []).join(', ');
  const columns = new Map<string, number>();
  const heads: string[] = [];
  const left = new Set<string>();
  const rows = new Map<string, string[]>();
  for (const t of gearTables(worked)) {
    const shown = shownIn(t, units);
    for (const row of shown.rows) {
      const wheel = key(cell(row[0]), cell(row[1]));
      if (!drawn.has(wheel)) continue;
      // A wheel in several meshes has one column; what differs of the others follows in the same cells.
      const again = columns.has(wheel);
      if (!again && heads.length >= most) {
        left.add(wheel);
        continue;
      }
      if (!again) columns.set(wheel, heads.push(cell(row[0])) - 1);
      const at = columns.get(wheel)!;
      shown.columns.forEach((c, k) => {
        if (k < 2) return;
        const profile = c.label === 'Reference profile';
        const label = profile ? 'Profile ha*, hf*, ρf*' : heading(c);
        const cells = rows.get(label) ?? [];
        const is = profile ? factors(cell(row[k])) : cell(row[k]);
        const had = cells[at] ?? '';
        cells[at] = !again || had === is || !is ? had || is : `${had}; ${is}`;
        rows.set(label, cells);
      });
    }
  }
  const stated = [...rows].filter(([, c]) => c.some(Boolean)).map(([label, c]) => [label, ...heads.map((_, k) => c[k] ?? '')]);
  return { ...(heads.length && { table: { heads, rows: stated } }), left: left.size };
}
