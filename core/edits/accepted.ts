import { ITEM_LISTS, markOf, namedBy } from '../document/index';
import { PART_KEYS } from '../fields/common';
import type { AcceptedFinding, Design, Finding } from '../fields/types';
import { freshId, idsOf, withoutGaps } from './items';

/** How a finding is answered: accepted for a reason, as long as what it depends on is as it was. */
export interface Answer {
  accepted: AcceptedFinding;
  /** Nothing that it depends on has changed since. */
  holds: boolean;
}

const keyOf = (code: string, items: readonly string[]): string => `${code} ${[...items].sort().join(' ')}`;

/**
 * A mark of what a finding says, and of all that is stated of the items that it is about: with what stands on a member, and a
 * coupling's ends.
 */
function stateOf(design: Design, f: Finding): string {
  const ids = new Set(f.ids);
  for (const c of design.couplings) if (ids.has(c.id)) for (const n of namedBy('couplings', c)) ids.add(n);
  for (const e of design.elements) if (ids.has(e.member)) ids.add(e.id);
  for (const j of design.joints) if (ids.has(j.child)) ids.add(j.id);
  const words: readonly string[] = [...PART_KEYS, 'name', 'colour'];
  const items = ITEM_LISTS.flatMap((list) => design[list].filter((x) => ids.has(x.id)));
  // Another name says nothing else.
  const said = items.reduce((text, x) => (x.name ? text.replaceAll(`“${x.name}”`, `“${x.id}”`) : text), f.message);
  return markOf(JSON.stringify([f.code, said, items], (key, value: unknown) => (words.includes(key) ? undefined : value)));
}

/** The answer that each finding has, by the finding; nothing where it has none. Time in proportion to findings and answers. */
export function answersOf(design: Design, findings: readonly Finding[]): Map<Finding, Answer> {
  const accepted = new Map((design.accepted ?? []).map((a) => [keyOf(a.finding, a.items ?? []), a]));
  const out = new Map<Finding, Answer>();
  if (!accepted.size) return out;
  for (const f of findings) {
    const a = accepted.get(keyOf(f.code, f.ids));
    if (a) out.set(f, { accepted: a, holds: a.state === stateOf(design, f) });
  }
  return out;
}

/** A caution accepted for a reason, in place of what was accepted of it before. */
export function withAccepted(design: Design, f: Finding, by: { reason: string; person?: string; date?: string }): Design {
  const key = keyOf(f.code, f.ids);
  const others = (design.accepted ?? []).filter((a) => keyOf(a.finding, a.items ?? []) !== key);
  const id = freshId(idsOf(design), 'accepted');
  return {
    ...design,
    accepted: [...others, withoutGaps({ id, finding: f.code, items: f.ids.length ? [...f.ids] : undefined, ...by, state: stateOf(design, f) })],
  };
}
