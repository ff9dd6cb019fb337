import { unusedName } from '../document/index';
import { MOST_PLACES, type KeptPlace, type ShapeElement, isShape, placeKey, placesOf } from '../elements/index';
import { type Design, type Element, FRAME, type Id, type Joint, type MemberKind } from '../fields/types';
import { type Frame, type Vec3, dot, norm, toLocalPoint, toLocalVector, toWorldPoint, toWorldVector, vadd, vscale, vsub } from '../math/index';
import { type ShapeData, type ShapePlace, chosenPlaces, foundAgain } from '../shapes/index';
import { elementFrame, memberFrame, statedOn, tidy } from './frames';
import { changed, freshId, idsOf } from './items';

/** A part that is taken in: its content by hash, where it stands in the world, and whose it is to be. */
export interface TakenPart {
  content: string;
  data: Pick<ShapeData, 'part' | 'file' | 'places' | 'size'>;
  place: Frame;
  colour?: Element['colour'];
  /** kg/m³; that of steel where none is stated. */
  density?: number;
  /** An id of a member, the frame, or a new member of a kind with a name. Parts that name the same new member share it. */
  onto: { member: Id } | { newMember: string; kind: MemberKind };
}

const figure = (x: number): number => Number(x.toPrecision(12)) + 0;
/** To a millionth of a mm: what the kernel leaves of rounding goes. */
const clean = (v: Vec3): Vec3 => [v[0], v[1], v[2]].map((x) => Number(x.toFixed(6)) + 0) as unknown as Vec3;

/** Places of all parts of one import that are kept at most. */
const MOST_IN_ALL = 6000;

const kept = (p: ShapePlace, n: number): KeptPlace => ({
  key: placeKey(n),
  kind: p.kind,
  point: clean(p.point),
  direction: [0, 1, 2].map((i) => Number(p.direction[i].toFixed(12)) + 0) as unknown as Vec3,
  size: figure(p.size),
});

/** What a design keeps of a shape's size, in its units. */
function sizes({ size }: Pick<ShapeData, 'size'>): Partial<ShapeElement> {
  const [xx, yy, zz, xy, yz, zx] = size.inertia.map((x) => Number(x.toPrecision(12)) + 0);
  return {
    volume: figure(size.volume / 1000),
    centroid: clean(size.centroid),
    inertia: [xx, yy, zz],
    products: [xy, yz, zx].map((x) => (Math.abs(x) < 1e-12 * (xx + yy + zz) ? 0 : x)) as unknown as Vec3,
    least: clean(size.least),
    most: clean(size.most),
    ...(size.closed ? {} : { open: true }),
  };
}

/** Parts as elements of members that are there or new. Gives the elements' ids in the order of the parts. */
export function addShapes(design: Design, parts: readonly TakenPart[]): { design: Design; elements: Id[]; members: Id[] } {
  const ids = idsOf(design);
  const names = new Set([...design.members, ...design.elements].map((x) => x.name));
  const members = [...design.members];
  const elements: Element[] = [];
  const made = new Map<string, Id>();
  const each = Math.max(12, Math.min(MOST_PLACES, Math.floor(MOST_IN_ALL / Math.max(1, parts.length))));
  const named = (stem: string): string => {
    const name = unusedName(stem.slice(0, 110) || 'Part', names);
    names.add(name);
    return name;
  };
  for (const p of parts) {
    let member: Id;
    if ('member' in p.onto) member = p.onto.member;
    else {
      const key = p.onto.newMember;
      const had = made.get(key);
      member = had ?? freshId(ids, 'member');
      if (!had) {
        ids.add(member);
        made.set(key, member);
        members.push({ id: member, name: named(key), kind: p.onto.kind });
      }
    }
    const id = freshId(ids, 'shape');
    ids.add(id);
    const host: Design = { ...design, members };
    const element: ShapeElement = {
      id,
      name: named(p.data.part),
      type: 'shape',
      member,
      content: p.content,
      file: p.data.file.slice(0, 200),
      part: p.data.part.slice(0, 200),
      ...sizes(p.data),
      places: chosenPlaces(p.data.places, each).map((x, i) => kept(x, i + 1)),
      ...(p.colour && { colour: p.colour }),
      ...(p.density !== undefined && { density: p.density }),
      ...statedOn(host, member, p.place),
    };
    elements.push(element);
  }
  return {
    design: { ...design, members, elements: [...design.elements, ...elements] },
    elements: elements.map((e) => e.id),
    members: [...made.values()],
  };
}

/** What became of the places of a shape that was replaced. */
export interface Replaced {
  design: Design;
  /** Joints that went with their place, and by how much, mm. */
  joints: { joint: Id; by: number }[];
  /** Names of places that are used and were not found again. */
  lost: string[];
}

/** Names of places of an element that anything refers to. */
function usedPlaces(d: Design, element: Id): Set<string> {
  const out = new Set<string>();
  for (const j of d.joints) {
    for (const ref of [...(j.lowerFaces ?? []), ...(j.upperFaces ?? []), ...(j.on ? [j.on] : [])]) {
      const [id, key] = ref.split(':');
      if (id === element && key) out.add(key);
    }
  }
  return out;
}

/**
 * A shape with the content of a newer file. Its places are found again by kind, direction, size and nearness and keep their
 * names; stops that are taken from its faces follow by themselves, and joints that stand on a place go with it: on the member
 * that carries, with all that hangs on the joint. A place that is used and not found stays where it was, and is told.
 */
export function replaceShape(design: Design, element: Id, content: string, data: Pick<ShapeData, 'part' | 'file' | 'places' | 'size'>): Replaced {
  const e = design.elements.find((x) => x.id === element);
  if (!e || !isShape(e)) return { design, joints: [], lost: [] };
  const used = usedPlaces(design, element);
  const old = placesOf(e);
  const reach = Math.max(norm(vsub(data.size.most, data.size.least)), norm(vsub(e.most ?? [0, 0, 0], e.least ?? [0, 0, 0])));
  // Places that are used choose first.
  const order = [...old].sort((a, b) => Number(used.has(b.key)) - Number(used.has(a.key)));
  const first = order.filter((p) => used.has(p.key));
  const found = new Map<string, ShapePlace>();
  const taken = new Set<number>();
  for (const list of [first, order.slice(first.length)]) {
    const left = data.places.map((_, k) => k).filter((k) => !taken.has(k));
    foundAgain(
      list,
      left.map((k) => data.places[k]),
      reach,
    ).forEach((k, i) => {
      if (k === undefined) return;
      taken.add(left[k]);
      found.set(list[i].key, data.places[left[k]]);
    });
  }
  const lost = old.filter((p) => used.has(p.key) && !found.has(p.key)).map((p) => p.key);
  const again = old.flatMap((p): KeptPlace[] => {
    const now = found.get(p.key);
    if (!now) return used.has(p.key) ? [p] : [];
    // An axis keeps the sense that it had.
    const turned = p.kind !== 'face' && dot(p.direction, now.direction) < 0;
    return [{ ...kept(turned ? { ...now, direction: vscale(now.direction, -1) } : now, 0), key: p.key }];
  });
  let next = Math.max(0, ...old.map((p) => Number(p.key.slice(1)))) + 1;
  const fresh = chosenPlaces(
    data.places.filter((_, k) => !taken.has(k)),
    Math.max(0, MOST_PLACES - again.length),
  ).map((p) => kept(p, next++));
  const { open: _open, lost: _lost, ...rest } = e;
  const after: ShapeElement = {
    ...rest,
    content,
    file: data.file.slice(0, 200),
    part: data.part.slice(0, 200),
    ...sizes(data),
    places: [...again, ...fresh],
    ...(lost.length ? { lost: lost.join(' ') } : {}),
  };
  const changedDesign = { ...design, elements: changed(design.elements, element, () => after as Element) };
  return { ...jointsFollow(changedDesign, e, after), lost };
}

/** Joints that stand on places of a shape go where these went. */
function jointsFollow(design: Design, before: ShapeElement, after: ShapeElement): Omit<Replaced, 'lost'> {
  const frame = elementFrame(design, before);
  const joints: Replaced['joints'] = [];
  let d = design;
  for (const j of design.joints) {
    const [id, key] = (j.on ?? '').split(':');
    if (id !== before.id) continue;
    const was = placesOf(before).find((p) => p.key === key),
      now = placesOf(after).find((p) => p.key === key);
    if (!was || !now) continue;
    const along = dot(vsub(now.point, was.point), was.direction);
    // Along its own axis a place may have slid; the joint stays in its plane.
    const local = was.kind === 'axis' ? vsub(vsub(now.point, was.point), vscale(was.direction, along)) : vsub(now.point, was.point);
    const by = toWorldVector(frame, local);
    const turned = norm(vsub(now.direction, was.direction)) > 1e-9;
    if (norm(by) < 1e-9 && !turned) continue;
    d = moveJoint(d, j, before.member, by, turned ? toWorldVector(frame, now.direction) : undefined);
    joints.push({ joint: j.id, by: norm(by) });
  }
  return { design: d, joints };
}

/** A member with all that it carries, and what that carries. */
function carriedBy(d: Design, member: Id): Set<Id> {
  const out = new Set([member]);
  for (const m of out) for (const j of d.joints) if (j.parent === m && j.child !== FRAME) out.add(j.child);
  return out;
}

/**
 * A joint follows a place that went by `by` in the world on the member `owner`, with an axis where it turned.
 * Where the carrier's part changed, what it carries goes along. Where the carried part did, its carrier's axis
 * stays and the part goes back by as much.
 */
function moveJoint(d: Design, j: Joint, owner: Id, by: Vec3, axis: Vec3 | undefined): Design {
  const carries = j.parent === owner;
  const going = carriedBy(d, j.child);
  const shift = carries ? by : vscale(by, -1);
  const shifted = { ...d, members: d.members.map((m) => (going.has(m.id) ? { ...m, at: tidy(vadd(m.at ?? [0, 0, 0], shift)) } : m)) };
  const was = toWorldPoint(memberFrame(d, j.child), j.at ?? [0, 0, 0]);
  const host = memberFrame(shifted, j.child);
  const place = { at: tidy(toLocalPoint(host, carries ? vadd(was, by) : was)), ...(axis && { axis: tidy(toLocalVector(host, axis)) }) };
  return { ...shifted, joints: changed(shifted.joints, j.id, (x) => ({ ...x, ...place })) };
}
