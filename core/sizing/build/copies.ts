import { type Design, type Id } from '../../fields/types';
import { copyItems, pasteItems } from '../../edits/items';
import { mirrorItems } from '../../edits/mirror';
import { carryElements, carryMembers, turnedAbout } from '../../edits/frames';
import { type Built, type NotBuilt } from './built';
import { featureAt } from './features';

/** A copy of items: what is new, the members among it, and the elements on members that stay. */
function copied(design: Design, ids: readonly Id[]): { design: Design; fresh: Set<Id>; members: Set<Id>; loose: Set<Id> } | NotBuilt {
  const part = copyItems(design, ids);
  if (!part.members.length && !part.elements.length) return { problem: 'Select members or elements to copy' };
  const { design: d, made } = pasteItems(design, part);
  const fresh = new Set(made);
  const members = new Set(d.members.filter((m) => fresh.has(m.id)).map((m) => m.id));
  return { design: d, fresh, members, loose: new Set(d.elements.filter((e) => fresh.has(e.id) && !members.has(e.member)).map((e) => e.id)) };
}

/** Copies of items in a ring about a feature's axis, evenly or by an angle, deg; with the first there are as many as stated. */
export function arrayAround(design: Design, ids: readonly Id[], about: string, count: number, step = 360 / count): Built | NotBuilt {
  const f = featureAt(design, about);
  if (!f) return { problem: 'Choose what the copies go round' };
  if (!Number.isInteger(count) || count < 2 || count > 360) return { problem: 'State how many there are in all, from 2 to 360' };
  let d = design;
  for (let k = 1; k < count; k++) {
    const c = copied(d, ids);
    if ('problem' in c) return c;
    const go = turnedAbout(f.point, f.axis, (k * step * Math.PI) / 180);
    d = carryElements(carryMembers(c.design, c.members, go), c.loose, go);
  }
  return { design: d };
}

/**
 * A mirrored copy of items, in the plane through a feature across
 * its direction: hands, phases and senses are those of the picture.
 */
export function mirrored(design: Design, ids: readonly Id[], plane: string): Built | NotBuilt {
  const p = featureAt(design, plane);
  if (!p) return { problem: 'Choose a face or an axis: the mirror stands across it' };
  const c = copied(design, ids);
  if ('problem' in c) return c;
  const d = mirrorItems(c.design, c.fresh, p);
  return typeof d === 'string' ? { problem: d } : { design: d };
}
