import { FRAME } from '../fields/types';
import type { Compiled } from '../kinematics/index';
import type { Outline } from '../solids/index';
import { nested } from './nesting';
import { type CutOptions, type Profile, cutPath, put } from './profiles';

/** Closed curves on named layers, in true size, mm: what DXF and SVG are written from. */
export interface Drawing {
  title: string;
  layers: { name: string; loops: readonly Outline[] }[];
  /** The part of the plane that is shown, mm. */
  box: { x0: number; y0: number; x1: number; y1: number };
}

export interface SheetOptions extends CutOptions {
  /** Size of a sheet, mm; without one, a single sheet as large as it takes. */
  sheet?: { width: number; height: number };
  /** Between parts, and from the edges, mm. */
  gap?: number;
}

/** A part as it is cut. */
export interface CutPart {
  profile: Profile;
  outline: Outline;
  holes: readonly Outline[];
  /** mm² of it that a tool of the kerf's width does not reach. */
  unreached: number;
  /** The sheet that it is on, counted from 0; none is large enough for it where undefined. */
  sheet?: number;
}

export interface Sheets {
  drawings: Drawing[];
  parts: CutPart[];
  /** What whoever cuts them should know. */
  notes: string[];
}

/** Flat parts laid out on sheets, a layer for each member. */
export function sheetsOf({ design }: Compiled, profiles: readonly Profile[], options: SheetOptions = {}): Sheets {
  const parts = profiles.map((profile): CutPart => ({ profile, ...cutPath(profile, options.kerf) }));
  const nest = nested(
    parts.map((p) => p.outline),
    options.gap ?? 5,
    options.sheet,
  );
  const name = new Map<string, string>([[FRAME, 'Frame'], ...design.members.map((m): [string, string] => [m.id, m.name])]);
  const layers = nest.sheets.map(() => new Map<string, Outline[]>());
  parts.forEach((p, i) => {
    const at = nest.places[i];
    if (!at) return;
    p.sheet = at.sheet;
    const layer = layers[at.sheet];
    const loops = [p.outline, ...p.holes].map((o) => put(o, at.at, at.quarter));
    layer.set(p.profile.member, [...(layer.get(p.profile.member) ?? []), ...loops]);
  });
  const notes = parts.flatMap(({ profile: { name: part, note }, unreached, sheet }) => [
    ...(sheet === undefined ? [`${part}: no sheet is large enough for it, and it is left out.`] : []),
    ...(note ? [`${part}: ${note}`] : []),
    ...(unreached > 0 ? [`${part}: a tool of ${options.kerf} mm does not reach into its corners: ${unreached.toPrecision(3)} mm² are left.`] : []),
  ]);
  return {
    drawings: nest.sheets.map((s, k) => ({
      title: nest.sheets.length > 1 ? `${design.name}, sheet ${k + 1} of ${nest.sheets.length}` : design.name,
      layers: [...layers[k]].map(([member, loops]) => ({ name: name.get(member) ?? member, loops })),
      box: { x0: 0, y0: 0, x1: s.width, y1: s.height },
    })),
    parts,
    notes,
  };
}
