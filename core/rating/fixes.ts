import { SHAFT_STEELS } from '../fields/shaft-rating';
import type { Design, Id, Member } from '../fields/types';
import type { Belt, Chain } from '../couplings/index';
import { type BevelGear, type Gear, type Nut, type Pulley, num } from '../elements/index';
import { ISO_54 } from '../sizing/index';
import { evenRoots } from './even-roots';
import { meshSizes } from './mesh-sizes';
import type { RatingFix } from './protocol';
import { statedShaft } from './shaft-sections';
import { strengthOf } from './shaft-steel';
import { firstThatCures } from './trial';

/**
 * How far a face is widened at most: to so many diameters of the pinion (common practice for a shaft with bearings on both
 * sides).
 */
const WIDEST = 1.2;
/** Fillet radii that are tried, mm; a series of Renard, common practice. */
const FILLETS = [0.4, 0.6, 1, 1.6, 2.5, 4, 6];
/** Steps in which it is tried, of its present width. */
const WIDER = [1.1, 1.2, 1.3, 1.5, 1.75, 2, 2.5, 3];

/**
 * Changes with which a mesh, a shaft or a screw that fails bears what is wanted. Each is tried on the whole design: forces,
 * speeds and places are worked out again.
 */
export function ratingFixes(design: Design, item: Id): RatingFix[] {
  const shaft = design.members.find((m) => m.id === item);
  const coupling = design.couplings.find((c) => c.id === item);
  const kinds = shaft ? shaftChanges(design, shaft) : ((coupling && CHANGES[coupling.type]?.(design, item)) ?? []);
  return kinds.flatMap(firstThatCures(design, item));
}
/** What is tried of a coupling. */
const CHANGES: Readonly<Record<string, (design: Design, coupling: Id) => RatingFix[][]>> = {
  'gear-pair': meshChanges,
  'rack-mesh': meshChanges,
  'sector-mesh': meshChanges,
  'bevel-pair': bevelChanges,
  'screw-drive': screwChanges,
  belt: bandChanges,
  chain: bandChanges,
};

/**
 * A wider face, a larger module of ISO 54 (for all wheels that mesh with one another), case-hardened steel; each from
 * small to large.
 */
function meshChanges(design: Design, coupling: Id): RatingFix[][] {
  const sizes = meshSizes(design, coupling);
  if (!sizes) return [];
  const { wheels, module, width, withModule, withWidth } = sizes;
  const smallest = Math.min(...wheels.filter((w) => (w.type as string) !== 'rack' && w.internal !== true).map((w) => num(w.teeth) * num(w.module)));
  const wider = WIDER.map((k) => Math.round(k * width)).filter((b) => b > width && b <= WIDEST * smallest);
  const larger = ISO_54.filter((m) => m > module * (1 + 1e-9)).slice(0, 5);
  return [wider.map(withWidth), larger.map(withModule), harderSteel(wheels), evenRoots(design, coupling)];
}
/** Case-hardened steel for the wheels that are not of it. */
function harderSteel(wheels: readonly Pick<Gear, 'id' | 'name' | 'materialGroup'>[]): RatingFix[] {
  const soft = wheels.filter((w) => w.materialGroup !== 'case-hardened steel');
  return soft.length
    ? [
        {
          label: `Case-hardened steel for ${soft.map((w) => w.name).join(' and ')}`,
          changes: soft.map((w) => ({ item: w.id, field: 'materialGroup', value: 'case-hardened steel' })),
        },
      ]
    : [];
}

/** A face of bevel gears is no wider than this part of the outer cone distance (common practice). */
const BEVEL_WIDEST = 1 / 3;
/** A wider face, case-hardened steel. A larger module moves both shafts, and is left to the designer. */
function bevelChanges(design: Design, coupling: Id): RatingFix[][] {
  const c = design.couplings.find((x) => x.id === coupling);
  const wheels = design.elements.filter((e): e is BevelGear => e.type === 'bevel-gear' && (e.id === c?.a || e.id === c?.b));
  if (wheels.length < 2) return [];
  const width = Math.min(...wheels.map((w) => num(w.width)));
  const outer = Math.min(...wheels.map((w) => (num(w.module) * num(w.teeth)) / 2 / Math.sin((num(w.coneAngle, 45) * Math.PI) / 180)));
  const wider = WIDER.map((k) => Math.round(k * width))
    .filter((b) => b > width && b <= BEVEL_WIDEST * outer)
    .map((b): RatingFix => ({
      label: `Face width ${b} mm instead of ${width} mm`,
      changes: wheels.map((w) => ({ item: w.id, field: 'width', value: Math.max(b, num(w.width)) })),
    }));
  return [wider, harderSteel(wheels)];
}

/** How many times the pre-tension of a belt is raised. */
const TIGHTER = [1.1, 1.25, 1.5, 2, 3, 4];
/** Wider pulleys of a toothed belt, more belts, a tighter one, more strands of a chain; each from small to large. */
function bandChanges(design: Design, coupling: Id): RatingFix[][] {
  const c = design.couplings.find((x) => x.id === coupling) as (Belt & Chain) | undefined;
  if (!c) return [];
  const own = (label: string, field: RatingFix['changes'][number]['field'], value: number): RatingFix => ({
    label,
    changes: [{ item: c.id, field, value }],
  });
  if (c.type === 'chain') {
    const { strands = 1 } = c;
    return [[2, 3].filter((n) => n > strands).map((n) => own(`${n} strands instead of ${strands}`, 'strands', n))];
  }
  const { belts = 1, pretension } = c;
  const pulleys = design.elements.filter((e): e is Pulley => e.type === 'pulley' && (c.wheels ?? []).includes(e.id));
  const width = Math.min(...pulleys.map((p) => num(p.width)));
  const toothed = pulleys.some((p) => p.form === 'toothed');
  return [
    toothed && c.strandLimit === undefined
      ? WIDER.map((k) => Math.ceil(k * width)).map((b): RatingFix => ({
          label: `Pulleys and belt ${b} mm wide instead of ${width} mm`,
          changes: pulleys.map((p) => ({ item: p.id, field: 'width', value: Math.max(b, num(p.width)) })),
        }))
      : [],
    c.ratedPower === undefined ? [] : [1, 2, 3, 4].map((n) => own(`${belts + n} belts instead of ${belts}`, 'belts', belts + n)),
    num(pretension) > 0 && !toothed
      ? TIGHTER.map((k) => Number((k * num(pretension)).toPrecision(2))).map((f) =>
          own(`Pre-tension ${f} N instead of ${num(pretension)} N`, 'pretension', f),
        )
      : [],
  ];
}

/** A notch whose fillet may be larger. */
const rounds = (n: NonNullable<Member['notches']>[number]): boolean => n.radius !== undefined && (n.form === 'shoulder' || n.form === 'round groove');

/** Larger fillets, a stronger steel, two keys in place of one; each from small to large. */
function shaftChanges(design: Design, m: Member): RatingFix[][] {
  const { notches = [], keys = [] } = m;
  // A fillet is a quarter of a circle at most: no larger than its step is high.
  const { sections } = statedShaft(design, m);
  const highest = (k: number): number => {
    const s = sections.find(({ places }) => places.length === 1 && places[0] === k)?.section;
    return s?.outer === undefined ? 0 : (s.outer - s.diameter) / 2;
  };
  const one = (label: string, field: RatingFix['changes'][number]['field'], value: RatingFix['changes'][number]['value']): RatingFix => ({
    label: `${label} of ${m.name}`,
    changes: [{ item: m.id, field, value }],
  });
  const rounder = FILLETS.filter((r) => notches.some((n, k) => rounds(n) && n.radius! < Math.min(r, highest(k)))).map((r) =>
    one(
      `Fillets of ${r} mm`,
      'notches',
      notches.map((n, k) => (rounds(n) ? { ...n, radius: Math.max(n.radius!, Math.min(r, highest(k))) } : n)),
    ),
  );
  const two = keys.some((k) => (k.count ?? 1) < 2)
    ? [
        one(
          'Two keys in place of one',
          'keys',
          keys.map((k) => ({ ...k, count: 2 })),
        ),
      ]
    : [];
  return [rounder, strongerSteels(m), two];
}

/** Steels that bear more than that of a member, from weak to strong. */
function strongerSteels(m: Member): RatingFix[] {
  const now = m.steel && strengthOf(m.steel, 16);
  return SHAFT_STEELS.map((steel) => ({ steel, bears: strengthOf(steel, 16) }))
    .filter(({ bears }) => !now || (bears.tensile > now.tensile && bears.yield > now.yield))
    .sort((a, b) => a.bears.tensile - b.bears.tensile)
    .map(({ steel }) => ({
      label: `Steel ${steel}${m.steel ? ` instead of ${m.steel}` : ''} of ${m.name}`,
      changes: [{ item: m.id, field: 'steel', value: steel }],
    }));
}

/** A longer nut, a stronger steel of the screw; each from small to large. */
function screwChanges(design: Design, coupling: Id): RatingFix[][] {
  const c = design.couplings.find((x) => x.id === coupling);
  const nut = design.elements.find((e) => e.id === c?.b) as Nut | undefined;
  const screw = design.elements.find((e) => e.id === c?.a);
  const member = design.members.find((m) => m.id === screw?.member);
  const longer = nut
    ? WIDER.map((k) => Math.round(k * num(nut.length))).map((l): RatingFix => ({
        label: `Nut ${l} mm long instead of ${num(nut.length)} mm`,
        changes: [{ item: nut.id, field: 'length', value: l }],
      }))
    : [];
  return [longer, member ? strongerSteels(member) : []];
}
