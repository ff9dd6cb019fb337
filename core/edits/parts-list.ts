import { fieldProblem } from '../document/index';
import { PART_FIELDS } from '../fields/common';
import { statedBy } from '../fields/fields';
import type { Design, Id } from '../fields/types';
import { withoutGaps } from './items';

/**
 * What a parts list says of a part or a member, by the id of its line; what it has no column for is undefined, an empty cell is
 * ''.
 */
export interface PartLine {
  /** Where it stands, as people call it: “Parts, row 4”. */
  where: string;
  id: Id;
  name?: string;
  material?: string;
  cost?: string | number;
  note?: string;
}
const LONGEST_NAME = 120;

/**
 * A design with names, materials, costs and notes as a parts list states them, by the ids of its lines. What is wrong in a line
 * leaves that field as it was, and is said.
 */
export function withPartsList(design: Design, lines: readonly PartLine[]): { design: Design; changed: number; problems: string[] } {
  const problems: string[] = [];
  const known = new Set([...design.members, ...design.elements].map((x) => x.id));
  const byId = new Map<Id, PartLine>();
  for (const l of lines) {
    if (!known.has(l.id)) problems.push(`${l.where}: the design has no part or member with the id “${l.id.slice(0, 64)}”.`);
    else if (byId.has(l.id)) problems.push(`${l.where}: its id stands in a line before; this line is left out.`);
    else byId.set(l.id, l);
  }
  let changed = 0;
  const read = <T extends { id: Id; name: string }>(x: T): T => {
    const l = byId.get(x.id);
    if (!l) return x;
    const next: Record<string, unknown> = { ...x };
    if (l.name !== undefined && l.name !== x.name) {
      const name = l.name.trim();
      if (!name || name.length > LONGEST_NAME || /[\u0000-\u001f\u007f]/.test(name)) {
        problems.push(`${l.where}: Name must be one line of 1 to ${LONGEST_NAME} characters.`);
      } else next['name'] = name;
    }
    for (const f of PART_FIELDS) {
      const cell = l[f.key];
      if (cell === undefined) continue;
      const text = String(cell).trim();
      const value = text === '' ? undefined : f.kind === 'number' ? (typeof cell === 'number' ? cell : Number(text.replace(',', '.'))) : text;
      const wrong = fieldProblem(f, value);
      if (wrong) problems.push(`${l.where}: ${wrong}.`);
      else next[f.key] = value;
    }
    const before = statedBy(x);
    const differs = Object.keys(next).some((k) => next[k] !== before[k]);
    if (!differs) return x;
    changed++;
    return withoutGaps(next as unknown as T);
  };
  return { design: { ...design, members: design.members.map(read), elements: design.elements.map(read) }, changed, problems };
}
