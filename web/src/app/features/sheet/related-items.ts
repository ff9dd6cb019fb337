import { type Design, type Id, statedBy } from '@unirota/core/document';
import { type Kind, LISTS, type Selection } from '../../state/items';

/** What belongs to an item: elements and joints of a member, the member of an element, the pair of a coupling. */
export function relatedTo(d: Design, s: Selection, i: Readonly<Record<string, unknown>>): { label: string; sel: Selection }[] {
  const id = i['id'];
  const nameOf = (k: Kind, x: Id): string => (d[LISTS[k]] as { id: Id; name?: string }[]).find((y) => y.id === x)?.name ?? x;
  const out: { label: string; sel: Selection }[] = [];
  const add = (k: Kind, x: unknown): void => {
    const found = typeof x === 'string' ? (d[LISTS[k]] as { id: Id }[]).find((y) => y.id === x.split(':')[0]) : undefined;
    if (found) out.push({ label: nameOf(k, found.id), sel: { kind: k, id: found.id } });
  };
  if (s.kind === 'member') {
    for (const j of d.joints) if (j.child === id || j.parent === id) add('joint', j.id);
    const own = new Set(d.elements.filter((e) => e.member === id).map((e) => e.id));
    for (const c of d.couplings) {
      if ([c['a'], c['b'], ...((c['wheels'] as Id[] | undefined) ?? [])].some((x) => own.has(x as Id))) add('coupling', c.id);
    }
    for (const l of d.loads) if (statedBy(l)['member'] === id) add('load', l.id);
  } else if (s.kind === 'element') {
    add('member', i['member']);
    for (const c of d.couplings) {
      if (c['a'] === id || c['b'] === id || ((c['wheels'] as string[] | undefined) ?? []).includes(id as string)) add('coupling', c.id);
    }
  } else if (s.kind === 'coupling') {
    for (const k of ['a', 'b']) {
      add('element', i[k]);
      add('joint', i[k]);
    }
    for (const w of (i['wheels'] as string[] | undefined) ?? []) add('element', w);
  } else if (s.kind === 'joint') {
    add('member', i['parent']);
    add('member', i['child']);
  } else {
    add('joint', i['joint']);
    add('member', i['member']);
    add('source', i['source']);
    add('element', i['element']);
  }
  return out;
}
