import { elementKind, isShape, plainOf } from '../elements/index';
import { type Solid, faceted, massOf } from '../solids/index';
import type { Id } from '../fields/types';
import { WORLD, frameIn, within } from '../math/index';
import type { Compiled } from '../kinematics/index';

/** One element of a body: its solids in the body's frame, without teeth and threads. */
export interface BodyPart {
  element: Id;
  name: string;
  solids: Solid[];
}

/** A member, and what is fastened to it, as strength is judged: solids in the member's own frame, mm. */
export interface StrengthBody {
  member: Id;
  name: string;
  parts: BodyPart[];
  /** mm³; where bodies overlap it counts twice. */
  volume: number;
  /** The least of the sizes of all solids, mm: what is thin asks for small elements. */
  thinnest: number;
  /** Names of imported shapes that are fastened to it: they are no part of the body that is meshed. */
  left: string[];
}

const range = (v: readonly number[]): number => Math.max(...v) - Math.min(...v);

/** How far a solid reaches in its own directions, mm; a ring by its wall. */
function sizesOf(solid: Solid): number[] {
  const s = faceted(solid);
  const odd = (v: readonly number[], k: number): number[] => v.filter((_, i) => i % 2 === k);
  if (s.kind === 'turned') {
    const r = odd(s.section, 0);
    const inner = Math.min(...r);
    return [inner > 0 ? Math.max(...r) - inner : 2 * Math.max(...r), range(odd(s.section, 1))];
  }
  const depth = s.kind === 'prism' ? Math.abs(s.to - s.from) : s.height * (1 - s.inner);
  return [range(odd(s.outline, 0)), range(odd(s.outline, 1)), depth];
}

/**
 * The body that a member makes with all that is fastened to it; undefined
 * where the member stands still with the frame or is not there.
 */
export function strengthBody(compiled: Compiled, member: Id): StrengthBody | undefined {
  const { structure, design, elementFrames } = compiled;
  const body = structure.bodyOf.get(member);
  const frame = structure.frames.get(member);
  if (!body || !frame) return undefined;
  const parts = design.elements.flatMap((e): BodyPart[] => {
    const f = elementFrames.get(e.id);
    if (!f || structure.bodyOf.get(e.member) !== body) return [];
    const at = frameIn(frame, f);
    const solids = plainOf(e).map((s) => ({ ...s, place: within(at, s.place ?? WORLD) }));
    return solids.length ? [{ element: e.id, name: e.name ?? elementKind(e.type)?.label ?? e.id, solids }] : [];
  });
  const solids = parts.flatMap((p) => p.solids);
  const sizes = solids.flatMap(sizesOf);
  return {
    member,
    name: design.members.find((m) => m.id === member)?.name ?? member,
    parts,
    // 1e9 kg/m³ is 1 kg/mm³.
    volume: massOf(solids, 1e9).mass,
    left: design.elements.filter((e) => isShape(e) && structure.bodyOf.get(e.member) === body).map((e) => e.name),
    thinnest: sizes.length ? Math.min(...sizes) : 0,
  };
}

/** Elements of a mesh of this size, about: a tetrahedron of edge h fills h³/8.5. */
export const elementsOf = (volume: number, size: number): number => (8.5 * volume) / size ** 3;

/** The most elements of one mesh. */
export const MOST_ELEMENTS = 150_000;

/** A size of elements to begin with, mm, to two digits: some thousand elements, finer where the body is thin. */
export function suggestedSize(body: Pick<StrengthBody, 'volume' | 'thinnest'>): number {
  const of = (count: number): number => Math.cbrt((8.5 * body.volume) / count);
  const size = Math.max(Math.min(of(6000), 1.5 * body.thinnest || Infinity), of(20_000));
  return Number(size.toPrecision(2));
}
