import { finding } from '../findings/index';
import polygonClipping from 'polygon-clipping';
import { Finding, Id } from '../fields/types';
import { contactsOf } from '../couplings/index';
import { type Gear, type Rack, gearOf, num, rackOf } from '../elements/index';
import { Compiled, CompiledCoupling, movedFrame, type Pose } from '../kinematics/index';
import { Frame, Vec3, cross, dot, toLocalPoint, vadd, vscale, vsub } from '../math/index';
import { FINE, gearOutline, rackOutline } from '../teeth/index';

/** Where two true profiles enter each other at a pose. */
export interface Overlap {
  coupling: Id;
  /** mm² */
  area: number;
  /** Closed outlines of the common area in the world, mm; empty where there is none. */
  outlines: Vec3[][];
}

type Flat = [number, number][];

/** Teeth looked at on each side of the pitch point: more than can be in contact. */
const TEETH = 7;

/**
 * The part of a gear's material round a direction (rad, in its own frame):
 * some teeth with the body behind them; of a ring, with the rim outside.
 */
function gearPart(outline: readonly number[], direction: number, teeth: number, internal: boolean): Flat {
  const half = Math.min(Math.PI * 0.999, ((TEETH + 0.5) * 2 * Math.PI) / teeth);
  const pts: { x: number; y: number; a: number }[] = [];
  let far = 0;
  for (let i = 0; i < outline.length; i += 2) {
    const x = outline[i],
      y = outline[i + 1];
    let a = Math.atan2(y, x) - direction;
    a -= 2 * Math.PI * Math.round(a / (2 * Math.PI));
    far = Math.max(far, Math.hypot(x, y));
    if (Math.abs(a) <= half) pts.push({ x, y, a });
  }
  // The outline runs round once: it is cut where the angle jumps from the window's end back to its beginning.
  const cut = pts.findIndex((p, i) => Math.abs(p.a - pts[(i + pts.length - 1) % pts.length].a) > half);
  const run = cut > 0 ? [...pts.slice(cut), ...pts.slice(0, cut)] : pts;
  const flat: Flat = run.map((p) => [p.x, p.y]);
  if (!internal) return [...flat, [0, 0]];
  const R = far * 1.2;
  const first = run[0],
    last = run[run.length - 1];
  const steps = 24;
  for (let i = 0; i <= steps; i++) {
    const a = direction + last.a + ((first.a - last.a) * i) / steps;
    flat.push([R * Math.cos(a), R * Math.sin(a)]);
  }
  return flat;
}

/** Flat outline in the plane (origin o, axes x and y) of what an element shows in the section at the point `at`, near it. */
function section(c: Compiled, m: Pose, element: Id, plane: Frame, at: Vec3): Flat | undefined {
  const e: (Gear & Rack) | undefined = c.elements.get(element),
    frame = c.elementFrames.get(element);
  if (!e || !frame) return undefined;
  const f = movedFrame(m, e.member, frame);
  const put = (x: number, y: number): [number, number] => {
    const p = toLocalPoint(plane, vadd(f.o, vadd(vscale(f.x, x), vscale(f.y, y))));
    return [p[0], p[1]];
  };
  if (e.type === 'gear') {
    const g = gearOf(e);
    const local = toLocalPoint(f, at);
    const twist = (local[2] * Math.tan(g.beta)) / g.pitchRadius;
    const outline = gearOutline(g, (num(e.phase) * Math.PI) / 180 + twist, FINE);
    return gearPart(outline, Math.atan2(local[1], local[0]), g.teeth, g.internal).map(([x, y]) => put(x, y));
  }
  const k = rackOf(e);
  const [x0, , z0] = toLocalPoint(f, at);
  const reach = (TEETH + 0.5) * Math.PI * k.module;
  const flat: Flat = [];
  const outline = rackOutline(k, num(e.phase) - z0 * Math.tan(k.beta), { flank: 2, fillet: 6 });
  for (let i = 0; i < outline.length; i += 2) flat.push([outline[i], outline[i + 1]]);
  const back = -k.height;
  const near = flat.filter(([x, y]) => Math.abs(x - x0) <= reach && y > back + 1e-9);
  if (near.length < 3) return undefined;
  near.sort((p, q) => p[0] - q[0] || 0);
  // Flanks lean outward: points keep their order along the rack, which the outline gives either way round.
  const ordered = flat.filter((p) => near.includes(p));
  if (ordered[0][0] > ordered[ordered.length - 1][0]) ordered.reverse();
  return [...ordered, [ordered[ordered.length - 1][0], back] as [number, number], [ordered[0][0], back] as [number, number]].map(([x, y]) =>
    put(x, y),
  );
}

const areaOf = (ring: Flat): number => {
  let a = 0;
  for (let i = 0; i < ring.length; i++) {
    const [x0, y0] = ring[i],
      [x1, y1] = ring[(i + 1) % ring.length];
    a += x0 * y1 - x1 * y0;
  }
  return Math.abs(a / 2);
};

/**
 * The common area of the true profiles of a gear pair or a rack mesh at the present
 * pose, in the section half way between both faces: an independent check of placement,
 * phase and pose. Undefined for couplings without flat profiles (bevel, worm, crossed).
 */
export function overlapOf(m: Pose, coupled: CompiledCoupling): Overlap | undefined {
  const { coupling, model } = coupled;
  if (coupling.type !== 'gear-pair' && coupling.type !== 'rack-mesh') return undefined;
  const contact = contactsOf(model)[0];
  if (!contact) return undefined;
  const c = m.compiled;
  const carrier = model.ports[0].carrier;
  const t = movedFrame(m, carrier, { o: contact.point, x: [1, 0, 0], y: [0, 1, 0], z: model.ports[0].axis });
  const z = t.z,
    x0: Vec3 = Math.abs(z[0]) < 0.7 ? [1, 0, 0] : [0, 1, 0];
  const y = cross(z, vsub(x0, vscale(z, dot(x0, z))));
  const len = Math.hypot(...y);
  const yy = vscale(y, 1 / len);
  const plane: Frame = { o: t.o, x: cross(yy, z), y: yy, z };
  const a = section(c, m, coupling.a as Id, plane, t.o),
    b = section(c, m, coupling.b as Id, plane, t.o);
  if (!a || !b || a.length < 3 || b.length < 3) return undefined;
  let common: ReturnType<typeof polygonClipping.intersection>;
  try {
    common = polygonClipping.intersection([a], [b]);
  } catch {
    // Profiles that touch along whole lines can defeat the clipper: a hair's shift settles it.
    try {
      common = polygonClipping.intersection([a.map(([x, q]): [number, number] => [x + 1e-7, q + 3e-7])], [b]);
    } catch {
      return undefined;
    }
  }
  let area = 0;
  const outlines: Vec3[][] = [];
  for (const poly of common) {
    poly.forEach((ring, k) => (area += (k ? -1 : 1) * areaOf(ring as Flat)));
    outlines.push(poly[0].map(([px, py]) => vadd(plane.o, vadd(vscale(plane.x, px), vscale(plane.y, py)))));
  }
  return { coupling: coupling.id, area, outlines: area > 1e-9 ? outlines : [] };
}

/** Part of a square module that may overlap by drawing flanks as short straight lines. */
const ROUGH = 2e-3;

/** All overlaps at the present pose that are more than drawing allows. */
export function overlaps(m: Pose, only?: ReadonlySet<Id>): Overlap[] {
  const out: Overlap[] = [];
  for (const c of m.compiled.couplings) {
    if (only && !only.has(c.coupling.id)) continue;
    const o = overlapOf(m, c);
    const first: Gear | undefined = m.compiled.elements.get(c.coupling.a ?? '');
    const module = num(first?.module, 1);
    if (o && o.area > ROUGH * module * module) out.push(o);
  }
  return out;
}

/** Overlaps as findings: teeth that stand in each other at the present pose. */
export const overlapFindings = (m: Pose, list: readonly Overlap[] = overlaps(m)): Finding[] =>
  list.map((o) => {
    const c = m.compiled.design.couplings.find((x) => x.id === o.coupling);
    return finding('teeth-overlap', [o.coupling], { name: c?.name ?? o.coupling, area: Number(o.area.toPrecision(3)) });
  });
