import { type Gear, num } from '../elements/index';
import type { Design, Id } from '../fields/types';
import { ISO_54 } from '../sizing/index';
import { evenRoots } from './even-roots';
import type { RatingFix } from './protocol';
import { curesOf, soundOf, together } from './trial';

/** A face is proposed no narrower than so many modules (common practice for shafts on two bearings: 6 and more). */
const NARROWEST = 6;
/** Modules that are tried, of those smaller than the present one. */
const MODULES = 8;
/** Parts of its present width to which a face is narrowed. */
const NARROWER = [0.3, 0.4, 0.5, 0.6, 0.7, 0.8, 0.9];

/**
 * What would do in place of a mesh that bears more than is wanted of it: the smallest module of ISO 54 and the narrowest face
 * with which all of it still bears that, and profile shifts that make both roots alike. Each is tried on the whole design, and
 * left out where it brings a fault or a caution.
 */
export function ratingSizes(design: Design, coupling: Id): RatingFix[] {
  const c = design.couplings.find((x) => x.id === coupling);
  if (c?.type !== 'gear-pair' && c?.type !== 'rack-mesh' && c?.type !== 'sector-mesh') return [];
  const wheels = design.elements.filter((e): e is Gear => e.id === c.a || e.id === c.b);
  if (wheels.length < 2) return [];
  const holds = curesOf(design, coupling);
  const sound = soundOf(design);
  const module = num(wheels[0].module);
  const all = together(
    design,
    wheels.map((w) => w.id),
  );
  const toothed = design.elements.filter((e) => all.has(e.id) && 'module' in e);
  const others = toothed.length > 2 ? `, of all ${toothed.length} wheels that mesh with them` : '';
  const smaller = ISO_54.filter((m) => m < module * (1 - 1e-9))
    .slice(-MODULES)
    .map((m): RatingFix => ({
      label: `Module ${m} mm instead of ${Number(module.toPrecision(4))} mm${others}`,
      changes: toothed.map((e) => ({ item: e.id, field: 'module', value: m })),
    }));
  const width = Math.min(...wheels.map((w) => num(w.width)));
  const narrower = NARROWER.map((k) => Math.round(k * width))
    .filter((b) => b >= NARROWEST * module && b < width)
    .map((b): RatingFix => ({
      label: `Face width ${b} mm instead of ${Number(width.toPrecision(4))} mm`,
      changes: wheels.map((w) => ({ item: w.id, field: 'width', value: num(w.width) - width + b })),
    }));
  return [smaller, narrower, evenRoots(design, coupling) ?? []].flatMap((fixes) => fixes.find((fix) => sound(fix) && holds(fix)) ?? []);
}
