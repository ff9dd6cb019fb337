import type { Element } from '../fields/types';
import { type Row, type Stated, choiceField, flagField, numberField, tableField, textField, vectorField } from '../fields/fields';
import { type Vec3, dot, norm, vsub } from '../math/index';
import { type MassProperties, possibleInertia } from '../solids/index';
import { PLACE_KINDS, type PlaceKind, type ShapePlace } from '../shapes/index';
import { DENSITY_FIELD, num } from './gear';
import { problem } from '../findings/index';
import { listed } from '../units/index';
import { DENSITY_STEEL, ElementKind } from './protocol';

/** Places that a design keeps of one shape at most. */
export const MOST_PLACES = 200;
const IN_FILE = { fromFile: true } as const;

const PLACE_COLUMNS = [
  textField('key', 'Name', { required: true, most: 7 }),
  choiceField('kind', 'Kind', PLACE_KINDS, { required: true }),
  vectorField('point', 'Point', { unit: 'mm', required: true }),
  vectorField('direction', 'Direction', { required: true }),
  numberField('size', 'Size', { required: true, min: 0, max: 1e9, help: 'Diameter or length in mm, area in mm².' }),
] as const;

const FIELDS = [
  textField('content', 'Content', { ...IN_FILE, required: true, most: 64, pattern: /^[0-9a-f]{64}$/, help: 'SHA-256 of the stored shape.' }),
  textField('file', 'File', { ...IN_FILE, most: 200, help: 'Name of the file that it came from.' }),
  textField('part', 'Part', { ...IN_FILE, most: 200, help: 'Name of the part in that file.' }),
  numberField('volume', 'Volume', { ...IN_FILE, unit: 'cm³', symbol: 'V', min: 0, max: 1e9 }),
  vectorField('centroid', 'Centroid', { ...IN_FILE, unit: 'mm' }),
  vectorField('inertia', 'Moments of inertia over mass', { ...IN_FILE, unit: 'mm²', min: 0, help: 'About the centroid: xx, yy, zz.' }),
  vectorField('products', 'Products of inertia over mass', {
    ...IN_FILE,
    unit: 'mm²',
    help: 'About the centroid: xy, yz, zx with the sign of the tensor.',
  }),
  vectorField('least', 'Least x, y, z', { ...IN_FILE, unit: 'mm' }),
  vectorField('most', 'Greatest x, y, z', { ...IN_FILE, unit: 'mm' }),
  flagField('open', 'Open surface', { ...IN_FILE, help: 'Its surface does not close: its mass is unknown.' }),
  tableField('places', 'Places', {
    ...IN_FILE,
    columns: PLACE_COLUMNS,
    most: MOST_PLACES,
    help: 'Axes, faces and other places of the shape that can be referred to.',
  }),
  textField('lost', 'Places not found again', {
    ...IN_FILE,
    help: 'Names of places that the newer file does not have, with spaces between: they stand where they were.',
  }),
  DENSITY_FIELD,
];
/** What is stated of one, from its fields. */
export type ShapeElement = Element & Stated<typeof FIELDS>;
/** A place as a design keeps it, with the name by which it is referred to. */
export type KeptPlace = Row<typeof PLACE_COLUMNS>;

export const isShape = (e: Element): e is ShapeElement => e.type === 'shape';

/** The contents that elements name, by hash, each once. */
export const contentsIn = (elements: readonly Element[]): string[] => [
  ...new Set(elements.flatMap((e) => (isShape(e) && e.content !== undefined ? [e.content] : []))),
];

/** The same element as a shape; undefined where it is none. */
export const asShape = (e: Element): ShapeElement | undefined => (isShape(e) ? e : undefined);

/** A place that can be referred to: "p" and a number. */
export const placeKey = (n: number): string => `p${n}`;

/** What a place is called: Hole or bar axis Ø 20, Face 400 mm². */
export function placeName(p: { kind: PlaceKind; size: number }): string {
  const figure = Number(p.size.toPrecision(4));
  switch (p.kind) {
    case 'axis':
      return p.size > 0 ? `axis Ø ${figure}` : 'axis';
    case 'centre':
      return `centre Ø ${figure}`;
    case 'face':
      return `face ${figure} mm²`;
    case 'edge':
      return `edge ${figure} mm`;
    case 'corner':
      return 'corner';
  }
}

/** A kept place in words, with the name by which it is referred to. */
export function nameOfPlace(e: ShapeElement, key: string): string {
  const p = placeOfShape(e, key);
  return p ? `${placeName(p)} (${key})` : key;
}

/** The places that a shape keeps; none where it states none. */
export const placesOf = (e: ShapeElement): readonly KeptPlace[] => e.places ?? [];

/** The names of places that were not found again in a newer file. */
export const lostPlaces = (e: ShapeElement): readonly string[] => e.lost?.split(' ').filter(Boolean) ?? [];

/** A kept place of a shape by the name in a reference. */
export const placeOfShape = (e: Element, key: string): ShapePlace | undefined => (isShape(e) ? placesOf(e).find((p) => p.key === key) : undefined);

/** The kept flat face of a shape in which a point of its surface lies, by the direction in which it looks there. mm */
export function faceAt(e: ShapeElement, point: Vec3, normal: Vec3): string | undefined {
  const off = (p: KeptPlace): number => Math.abs(dot(vsub(point, p.point), p.direction));
  const like = placesOf(e).filter((p) => p.kind === 'face' && dot(p.direction, normal) > 0.999);
  const reach = e.least && e.most ? norm(vsub(e.most, e.least)) : 1;
  const best = like.sort((a, b) => off(a) - off(b))[0] as KeptPlace | undefined;
  return best && off(best) < 1e-3 * reach ? best.key : undefined;
}

const ZERO: Vec3 = [0, 0, 0];

/** A part that was modelled elsewhere. Its content is kept by its hash; its mass and its places stand here. */
export const shapeElement: ElementKind<ShapeElement> = {
  type: 'shape',
  label: 'Shape',
  fields: FIELDS,
  imported: true,
  shape: () => [],
  weight(e): MassProperties | undefined {
    if (e.open) return undefined;
    const mass = num(e.volume) * 1e-6 * num(e.density, DENSITY_STEEL);
    const [xx, yy, zz] = e.inertia ?? ZERO,
      [xy, yz, zx] = e.products ?? ZERO;
    return { mass, centre: e.centroid ?? ZERO, inertia: [xx * mass, yy * mass, zz * mass, xy * mass, yz * mass, zx * mass] };
  },
  extent: (e) => (e.least && e.most ? [e.least, e.most] : undefined),
  derived: (e) => [
    ...(e.file ? [{ key: 'file', label: 'From file', value: e.file }] : []),
    ...(e.part ? [{ key: 'part', label: 'Part', value: e.part }] : []),
    ...(e.least && e.most
      ? [{ key: 'size', label: 'Size', value: e.most.map((x, i) => Number((x - e.least![i]).toPrecision(5))).join(' × '), unit: 'mm' }]
      : []),
    e.open
      ? { key: 'volume', label: 'Volume', value: 'unknown: its surface is open' }
      : { key: 'volume', label: 'Volume', symbol: 'V', value: num(e.volume), unit: 'cm³' },
    { key: 'places', label: 'Places', value: String(placesOf(e).length) },
  ],
  problems: (e) => [
    ...(e.open ? [problem('shape-open', {})] : []),
    ...(e.open || possibleInertia([...(e.inertia ?? ZERO), ...(e.products ?? ZERO)] as unknown as MassProperties['inertia'])
      ? []
      : [problem('shape-inertia', {})]),
    ...(lostPlaces(e).length ? [problem('shape-place-lost', { places: listed(lostPlaces(e).map((key) => nameOfPlace(e, key))) })] : []),
  ],
  mirrored: () => 'a shape from a file has no mirror image here: mirror it where it was modelled and import it again',
};
