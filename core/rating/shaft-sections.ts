import type { Design, Exact, Member } from '../fields/types';
import { num, parallelKey } from '../elements/index';
import { interferenceOf } from '../fits/index';
import { type ShaftPiece, shaftPiecesOf } from '../forces/index';
import { localFrame } from '../math/index';
import type { Section } from './din-743';
import { type PressFit, USUAL_SEAT_ROUGHNESS, smoothing } from './press-fit';
import { type ShaftMaterial, materialOf } from './shaft-steel';

/** μm, where no roughness is stated: as turned. */
const USUAL_ROUGHNESS = 10;
/** A step of the bars so near a stated notch is that notch, mm. */
const NEAR = 0.5;

/** A section that can be rated, and at which of the rated places of its shaft it stands. */
export interface RatedSection {
  readonly key: string;
  readonly name: string;
  readonly section: Section;
  readonly places: readonly number[];
}
export interface RatedKey {
  readonly key: string;
  readonly name: string;
  readonly diameter: number;
  readonly sizes: { readonly height: number; readonly depth: number; readonly length: number; readonly count: number };
  /** The rated place at which the keyway begins; it ends at the next. */
  readonly first: number;
  /** Yield strength of the key and its hub, where it is stated, MPa. */
  readonly strength?: number;
}
export interface RatedFit {
  readonly key: string;
  readonly name: string;
  readonly sizes: PressFit;
  /** Interference of the diameter, mm: by which it holds, and by which it stresses; and where they come from. */
  readonly interference: { readonly least: number; readonly greatest: number };
  readonly fit?: { readonly name: string; readonly smoothed: number; readonly roughness?: number };
  readonly friction?: number;
  readonly strength?: number;
  readonly first: number;
}
export interface RatedSplines {
  readonly key: string;
  readonly name: string;
  readonly sizes: { readonly inner: number; readonly outer: number; readonly length: number; readonly teeth: number };
  readonly strength?: number;
  readonly first: number;
}
export interface RatedPin {
  readonly key: string;
  readonly name: string;
  /** Diameters of pin, shaft and hub, mm. */
  readonly sizes: { readonly pin: number; readonly shaft: number; readonly outer: number };
  readonly pinStrength?: number;
  readonly strength?: number;
  readonly first: number;
}
/** What of a shaft can be rated; and why the rest cannot. */
export interface StatedShaft {
  readonly material?: ShaftMaterial;
  readonly sections: readonly RatedSection[];
  readonly keys: readonly RatedKey[];
  readonly fits: readonly RatedFit[];
  readonly splines: readonly RatedSplines[];
  readonly pins: readonly RatedPin[];
  readonly missing: readonly string[];
}

/** Places of a shaft at which it is rated, mm along it: its notches, and the ends of what joins it to hubs. */
export const ratedPlaces = ({ notches, keys, fits, splines, pins }: Member): number[] => [
  ...(notches ?? []).map((n) => n.at),
  ...[...(keys ?? []), ...(fits ?? []), ...(splines ?? [])].flatMap((k) => [k.at - k.length / 2, k.at + k.length / 2]),
  ...(pins ?? []).flatMap((p) => [p.at - p.diameter / 2, p.at + p.diameter / 2]),
];

/** Reads a shaft: sizes left open are those of its round bars, and of the standard keys. */
export function statedShaft(design: Design, m: Member): StatedShaft {
  const pieces = shaftPiecesOf(design, m.id);
  const { notches = [], keys = [], fits = [], splines = [], pins = [] } = m;
  const material = materialOf(m, Math.max(0, ...pieces.map((p) => p.outer), ...notches.map((n) => n.outer ?? n.diameter ?? 0)));
  const none = { sections: [], keys: [], fits: [], splines: [], pins: [] };
  if (!material) return { ...none, missing: ['the steel of the shaft is not stated'] };
  if (!ratedPlaces(m).length) return { ...none, missing: ['no shoulder, groove, fit or key of the shaft is stated'] };
  const missing = [
    ...unstatedSteps(pieces, m).map((z) => `its step at ${short(z)} mm is not stated as a shoulder or groove`),
    ...keyedWheels(design, m).map((name) => `the key of “${name}” is not stated`),
  ];
  const sections: RatedSection[] = [];
  const rated: RatedKey[] = [];
  notches.forEach((n, k) => {
    const name = `${n.form === 'plain' ? 'section' : n.form} at ${short(n.at)} mm`;
    const read = readNotch(n, at(pieces, n.at));
    if (typeof read === 'string') missing.push(`its ${name} ${read}`);
    else sections.push({ key: `${m.id} notch ${k}`, name, section: read, places: [k] });
  });
  keys.forEach((key, k) => {
    const here = at(pieces, key.at);
    const name = `key at ${short(key.at)} mm`;
    const read = readKey(key, here.least);
    if (typeof read === 'string') return void missing.push(`its ${name} ${read}`);
    const first = notches.length + 2 * k;
    const { diameter, sizes } = read;
    rated.push({ key: `${m.id} key ${k}`, name, diameter, sizes, first, ...(key.strength !== undefined && { strength: key.strength }) });
    sections.push({
      key: `${m.id} keyway ${k}`,
      name: `keyway at ${short(key.at)} mm`,
      section: { form: sizes.count > 1 ? 'two keyways' : 'keyway', diameter, bore: here.bore, roughness: USUAL_ROUGHNESS },
      places: [first, first + 1],
    });
  });
  const pressed: RatedFit[] = [];
  fits.forEach((fit, k) => {
    const here = at(pieces, fit.at);
    const name = `press fit at ${short(fit.at)} mm`;
    const diameter = fit.diameter ?? here.least;
    if (diameter === undefined) return void missing.push(`its ${name} has no diameter: none is stated, and no round bar is there`);
    if (!(fit.outer > diameter)) return void missing.push(`its ${name} needs a hub that is larger than the shaft`);
    if (here.bore >= diameter) return void missing.push(`its ${name} is bored through`);
    const found = interferenceIn(fit, diameter);
    if (typeof found === 'string') return void missing.push(`its ${name} ${found}`);
    pressed.push({
      key: `${m.id} fit ${k}`,
      name,
      sizes: { diameter, outer: fit.outer, bore: here.bore, length: fit.length },
      ...found,
      ...(fit.friction !== undefined && { friction: fit.friction }),
      ...(fit.strength !== undefined && { strength: fit.strength }),
      first: notches.length + 2 * keys.length + 2 * k,
    });
  });
  const behindFits = notches.length + 2 * (keys.length + fits.length);
  return {
    material,
    sections,
    keys: rated,
    fits: pressed,
    splines: splines.flatMap((x, k) => splinesOf(m, x, k, behindFits + 2 * k, missing)),
    pins: pins.flatMap((x, k) => pinOf(m, x, k, behindFits + 2 * (splines.length + k), at(pieces, x.at), missing)),
    missing,
  };
}

/** A length in a sentence, mm. */
const short = (z: number): string => String(Number(z.toFixed(2))).replace('-', '−');
type Notch = NonNullable<Member['notches']>[number];
type Key = NonNullable<Member['keys']>[number];
type Fit = NonNullable<Member['fits']>[number];
type Splines = NonNullable<Member['splines']>[number];
type Pin = NonNullable<Member['pins']>[number];

/** The section of a notch, or what it lacks. */
function readNotch(n: Notch, here: Here): Section | string {
  const groove = n.form === 'round groove' || n.form === 'ring groove';
  const diameter = n.diameter ?? (groove ? undefined : here.least);
  const outer = n.outer ?? here.most;
  if (diameter === undefined) return groove ? 'needs the diameter at its bottom' : 'has no diameter: none is stated, and no round bar is there';
  if ((groove || n.form === 'shoulder') && !(outer !== undefined && outer > diameter)) return 'needs a larger diameter beside it';
  if ((n.form === 'shoulder' || n.form === 'round groove') && n.radius === undefined) return 'needs its fillet radius';
  if (n.form === 'ring groove' && n.width === undefined) return 'needs its width';
  if (here.bore >= diameter) return 'is bored through';
  return {
    form: n.form,
    diameter,
    bore: here.bore,
    ...(outer !== undefined && { outer }),
    ...(n.radius !== undefined && { radius: n.radius }),
    ...(n.width !== undefined && { width: n.width }),
    roughness: n.roughness ?? USUAL_ROUGHNESS,
  };
}

/** The sizes of a key, or what it lacks. */
function readKey(key: Key, diameter: number | undefined): Pick<RatedKey, 'diameter' | 'sizes'> | string {
  if (diameter === undefined) return 'has no diameter: no round bar is there';
  const standard = parallelKey(diameter);
  const height = key.height ?? standard?.height;
  const depth = key.depth ?? standard?.depth;
  if (height === undefined || depth === undefined) return `needs its height and depth: DIN 6885-1 has none for a shaft of ${short(diameter)} mm`;
  if (height <= depth) return 'is not higher than it stands in the shaft';
  return { diameter, sizes: { height, depth, length: key.length, count: key.count ?? 1 } };
}

function splinesOf(m: Member, x: Splines, k: number, first: number, missing: string[]): RatedSplines[] {
  const name = `splines at ${short(x.at)} mm`;
  const { inner, outer, length, teeth, strength } = x;
  if (!(outer > inner)) missing.push(`its ${name} need a diameter outside that is larger than the one inside`);
  return outer > inner
    ? [{ key: `${m.id} splines ${k}`, name, sizes: { inner, outer, length, teeth }, ...(strength !== undefined && { strength }), first }]
    : [];
}
function pinOf(m: Member, x: Pin, k: number, first: number, { least: shaft, bore }: Here, missing: string[]): RatedPin[] {
  const name = `pin at ${short(x.at)} mm`;
  const why =
    shaft === undefined
      ? 'has no shaft: no round bar is there'
      : bore > 0
        ? 'goes through a hollow shaft: only solid ones are rated'
        : x.diameter >= shaft
          ? 'is as thick as the shaft'
          : x.outer <= shaft
            ? 'needs a hub that is larger than the shaft'
            : undefined;
  if (why !== undefined || shaft === undefined) {
    missing.push(`its ${name} ${why}`);
    return [];
  }
  return [
    {
      key: `${m.id} pin ${k}`,
      name,
      sizes: { pin: x.diameter, shaft, outer: x.outer },
      ...(x.pinStrength !== undefined && { pinStrength: x.pinStrength }),
      ...(x.strength !== undefined && { strength: x.strength }),
      first,
    },
  ];
}

/** The interference that a press fit states, what is smoothed away taken off; or what it lacks. */
function interferenceIn(fit: Fit, diameter: number): Pick<RatedFit, 'interference' | 'fit'> | string {
  if (fit.fit === undefined) {
    const { interference: u } = fit;
    return u === undefined ? 'states neither a fit nor its interference' : { interference: { least: u, greatest: u } };
  }
  const limits = interferenceOf(fit.fit, diameter);
  if (!limits) return `has no limits in our tables of ISO 286 for ${fit.fit} at ${short(diameter)} mm: state its interference`;
  const smoothed = smoothing(fit.roughness ?? USUAL_SEAT_ROUGHNESS);
  const [least, greatest] = [limits.least - smoothed, limits.greatest - smoothed];
  if (!(least > 0)) return `may have play: of ${fit.fit} at ${short(diameter)} mm no interference is left at the limits`;
  return { interference: { least, greatest }, fit: { name: fit.fit, smoothed, ...(fit.roughness !== undefined && { roughness: fit.roughness }) } };
}

/** Wheels with a keyway over which no key is stated. */
const keyedWheels = (design: Design, m: Member): string[] =>
  design.elements.flatMap((e) => {
    const { keyway = 'none', width } = e as { keyway?: string; width?: Exact };
    if (e.member !== m.id || keyway === 'none') return [];
    const at = localFrame(e).o[2];
    return m.keys?.some((k) => Math.abs(k.at - at) <= num(width) / 2) ? [] : [e.name];
  });

interface Here {
  readonly least?: number;
  readonly most?: number;
  readonly bore: number;
}
/** The round bars at a place: the smallest and the largest that ends, begins or goes through there, and the widest bore. mm */
function at(pieces: readonly ShaftPiece[], z: number): Here {
  const here = pieces.filter((p) => z >= p.from - NEAR && z <= p.to + NEAR);
  // Bars inside one another are one: what counts on each side is the stoutest.
  const side = (x: number): number | undefined => {
    const there = here.filter((p) => x > p.from && x < p.to).map((p) => p.outer);
    return there.length ? Math.max(...there) : undefined;
  };
  const sides = [side(z - 2 * NEAR), side(z), side(z + 2 * NEAR)].filter((d) => d !== undefined);
  return { ...(sides.length && { least: Math.min(...sides), most: Math.max(...sides) }), bore: Math.max(0, ...here.map((p) => p.inner)) };
}

/** Places where one bar goes on in another of another diameter, and nothing is stated. */
function unstatedSteps(pieces: readonly ShaftPiece[], m: Member): number[] {
  const ends = [...new Set(pieces.flatMap((p) => [p.from, p.to]))];
  const stoutest = (x: number): number => Math.max(0, ...pieces.filter((p) => x > p.from && x < p.to).map((p) => p.outer));
  return ends.filter((z) => {
    const [below, above] = [stoutest(z - NEAR), stoutest(z + NEAR)];
    return below > 0 && above > 0 && Math.abs(below - above) > 1e-6 && !m.notches?.some((n) => Math.abs(n.at - z) <= NEAR);
  });
}
