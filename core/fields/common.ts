import { partsOfColour } from '../math/index';
import { SHAFT_RATING_FIELDS } from './shaft-rating';
import { QUANTIFIED, type Quantified, SYMBOL, UNIT_CHOICES } from '../units/index';
import {
  type Field,
  ID_PATTERN,
  MOST_ITEMS,
  choiceField,
  exactField,
  flagField,
  numberField,
  refField,
  refsField,
  tableField,
  textField,
  vectorField,
  wholeField,
} from './fields';

/**
 * What is stated of members, of any joint, of any element, and of what a person keeps in a design. What else an item
 * states is its kind's: elements/, joints/, couplings/, loads/ and document/kinds.
 */

/** Freedoms of a joint beyond its first, and how they are called. */
const FURTHER = [
  [2, 'second'],
  [3, 'third'],
] as const;

/** What may be stated of every joint besides its kind's own fields; what ends in a number is of that freedom. */
export const JOINT_FIELDS = [
  exactField('lower', 'Lower stop', { min: -1e9, max: 1e9 }),
  exactField('upper', 'Upper stop', { min: -1e9, max: 1e9 }),
  refsField('lowerFaces', 'Lower stop where faces meet', 'face', { help: 'Two faces, such as “collar:+z”: the stop follows them when they change.' }),
  refsField('upperFaces', 'Upper stop where faces meet', 'face', { help: 'Two faces: the stop follows them when they change.' }),
  exactField('home', 'Home', { min: -1e9, max: 1e9 }),
  refField('on', 'Axis on', 'face', {
    rare: true,
    help: 'A place of a shape, such as “bracket:p3”: when the shape is replaced by a newer file, the joint goes with it.',
  }),
  numberField('restitution', 'Restitution at its stops', {
    initial: 0,
    min: 0,
    max: 1,
    rare: true,
    help: 'Coefficient of restitution of what comes to a stop: 0 stays there, 1 rebounds in full.',
  }),
  ...FURTHER.flatMap(([n, word]) => [
    exactField(`lower${n}`, `Lower stop of the ${word} freedom`, { min: -1e9, max: 1e9, rare: true }),
    exactField(`upper${n}`, `Upper stop of the ${word} freedom`, { min: -1e9, max: 1e9, rare: true }),
    exactField(`home${n}`, `Home of the ${word} freedom`, { min: -1e9, max: 1e9, rare: true }),
  ]),
];

/** The members that a joint joins; the member that an element is fastened to. */
export const JOINT_OWN = [
  refField('parent', 'Carrying member', 'member', { required: true, idAlone: true }),
  refField('child', 'Carried member', 'member', { required: true, idAlone: true }),
] as const;
export const ELEMENT_OWN = [refField('member', 'Member', 'member', { required: true, idAlone: true })] as const;
export const GROUP_FIELDS = [refsField('items', 'Items', 'item', { required: true, idAlone: true, most: MOST_ITEMS })] as const;
/** Where a group came from the shelf: the design that it is there, its revision, and which item is which there. */
export const ORIGIN_FIELDS = [
  textField('origin', 'From the shelf', { most: 36, pattern: /^[0-9a-z-]{1,36}$/, help: 'The design on the shelf that it is a copy of.' }),
  wholeField('originRevision', 'Revision on the shelf', { min: 1, max: 1e9 }),
  tableField('originItems', 'Items on the shelf', {
    columns: [
      refField('item', 'Item', 'item', { required: true, idAlone: true }),
      textField('of', 'Id on the shelf', { required: true, most: 64, pattern: ID_PATTERN }),
    ],
  }),
];

export const DRIVES_FIELD = refField('joint', 'Drives', 'coordinate', { required: true });
export const SPEED_FIELD = numberField('speed', 'Nominal speed', {
  unit: 'rev/min',
  symbol: 'n',
  required: true,
  min: -1e6,
  max: 1e6,
  help: 'rev/min of a turning joint, mm/s of a sliding one; the sign is the sense.',
});

/** Where a member, a joint or an element stands. */
export const PLACE_FIELDS = [
  vectorField('at', 'Place', { unit: 'mm', help: 'Origin: of a member in the world, of an element or a joint in its member.' }),
  vectorField('axis', 'Axis', { direction: true, help: 'Direction of the local z axis.' }),
  vectorField('up', 'Up', { direction: true, help: 'Direction near which the local x axis lies.' }),
];
/** What a load case states beside its name. */
export const CASE_FIELDS = [
  tableField('loads', 'Loads', {
    columns: [refField('load', 'Load', 'load', { required: true }), numberField('factor', 'Factor', { required: true, min: -1000, max: 1000 })],
    most: 2000,
    help: 'Loads that are scaled in this case; a factor of 0 leaves one out. Others are as stated.',
  }),
  tableField('speeds', 'Speeds', {
    columns: [
      refField('source', 'Source', 'source', { required: true }),
      numberField('speed', 'Nominal speed', { required: true, min: -1e6, max: 1e6 }),
    ],
    most: 2000,
    help: 'Nominal speeds of sources in this case, rev/min or mm/s. Others are as stated.',
  }),
];
/** Units in which a named quantity is kept. */
export const QUANTITY_UNITS = ['number', 'mm', 'deg', 'rev/min', 'mm/s', 's', 'kg', 'N', 'N·m', 'W', 'MPa', 'N/mm'] as const;
/** What a named quantity states beside its name. */
export const QUANTITY_FIELDS = [
  textField('symbol', 'Symbol', { required: true, most: 24, pattern: SYMBOL }),
  choiceField('unit', 'Unit', QUANTITY_UNITS, { initial: 'number' }),
  exactField('value', 'Value', { required: true, min: -1e9, max: 1e9, help: 'In its unit; what the formula comes to, where there is one.' }),
  textField('formula', 'Formula', { most: 200, help: 'Of other quantities; worked out again after each edit.' }),
  textField('note', 'Note', { most: 500 }),
  textField('group', 'Group', { most: 60 }),
];
/** A variant: what of the design is otherwise in it. */
export const VARIANT_FIELDS = [
  tableField('changes', 'Changed fields', {
    columns: [
      refField('item', 'Item', 'item', { required: true, idAlone: true }),
      textField('field', 'Field', { required: true, most: 60, pattern: /^[A-Za-z][A-Za-z0-9]*$/ }),
      textField('value', 'Value', {
        most: 200,
        help: 'As documents keep it: a number, a fraction, a choice, yes or no; empty where it is stated no more.',
      }),
    ],
    most: 2000,
  }),
  refsField('suppressed', 'Left out', 'item', {
    idAlone: true,
    help: 'Items that the variant does without, with all that cannot stand without them.',
  }),
];
/** A caution that somebody has accepted: which finding of which items, why, and in which state of what it depends on. */
export const ACCEPTED_FIELDS = [
  textField('finding', 'Finding', { required: true, most: 80, help: 'Its code.' }),
  refsField('items', 'Items', 'item', { idAlone: true }),
  textField('reason', 'Reason', { required: true, most: 1000 }),
  textField('person', 'Accepted by', { most: 120 }),
  textField('date', 'Accepted on', { most: 30 }),
  textField('state', 'State', { required: true, most: 16, pattern: /^[0-9a-f]{16}$/, help: 'A mark of the finding and its items as they were.' }),
];
/** How long a run of the design takes, and into how many instants it is cut. */
export const RUN_FIELDS = [
  numberField('duration', 'Duration', { unit: 's', above: 0, max: 1e6 }),
  wholeField('frames', 'Instants', { min: 2, max: 20_000 }),
];
/** When a run is over. */
export const RUN_ENDS = ['time', 'turn', 'stop to stop', 'rest'] as const;
export type RunEnd = (typeof RUN_ENDS)[number];
/** What a kept run states beside its name. */
export const KEPT_RUN_FIELDS = [
  choiceField('until', 'Until', RUN_ENDS, {
    help: 'The duration is over; one turn of the first source; the first source from stop to stop, both at its nominal speed; or until everything stands still, at most for the duration.',
  }),
  ...RUN_FIELDS,
  flagField('letGo', 'Let go', { help: 'Sources let go: what moves then moves by weight, springs and loads alone.' }),
  refField('case', 'Load case', 'case'),
  tableField('starts', 'Starts at', {
    columns: [refField('joint', 'Joint', 'coordinate', { required: true }), numberField('at', 'Place', { required: true, min: -1e9, max: 1e9 })],
    most: 2000,
    help: 'Places of joints where it begins, deg or mm; at home where none are stated.',
  }),
  tableField('recorded', 'Recorded', {
    columns: [
      numberField('time', 'Time', { unit: 's', required: true, min: 0, max: 1e6 }),
      numberField('value', 'Place', { required: true, min: -1e7, max: 1e7, help: 'deg or mm from the place where the run begins' }),
    ],
    most: 2000,
    help: 'The first source follows this place over time, which came from a drive or an instrument, whatever its motion profile is.',
  }),
];
/** What a kept load sheet states beside its name. */
export const KEPT_SHEET_FIELDS = [
  refField('member', 'Member', 'member', { required: true }),
  refField('run', 'Run', 'run', { help: 'The kept run of which it is an instant; none where it is of a place under the hand.' }),
  numberField('time', 'At', { unit: 's', min: 0, max: 1e9 }),
  refField('case', 'Load case', 'case'),
  tableField('starts', 'Stands at', {
    columns: [refField('joint', 'Joint', 'coordinate', { required: true }), numberField('at', 'Place', { required: true, min: -1e9, max: 1e9 })],
    most: 2000,
    help: 'Places of joints where no run is named, deg or mm; at home where none are stated.',
  }),
  numberField('stress', 'Greatest equivalent stress', {
    unit: 'MPa',
    min: 0,
    max: 1e9,
    help: 'Of a strength analysis of the member with this sheet.',
  }),
  vectorField('stressAt', 'where', { unit: 'mm', help: 'In the frame of the member.' }),
  numberField('change', 'Greatest change of shape', { unit: 'mm', min: 0, max: 1e9 }),
  numberField('yieldStrength', 'Yield strength', { unit: 'MPa', above: 0, max: 1e7 }),
  numberField('size', 'Size of elements', { unit: 'mm', above: 0, max: 1e4 }),
  numberField('young', 'Young’s modulus', { unit: 'MPa', above: 0, max: 1e7 }),
  numberField('poisson', 'Poisson’s ratio', { min: 0, max: 0.49 }),
  textField('madeOf', 'Made of', {
    most: 40,
    help: 'Which state of the design was analysed: a mark of its members, elements, joints, couplings, sources and loads.',
  }),
];
export const VIEW_FIELDS = [
  vectorField('from', 'From', { direction: true, required: true, help: 'Direction from which it is seen.' }),
  vectorField('up', 'Up', { direction: true, required: true }),
  vectorField('target', 'Middle', { unit: 'mm', required: true }),
  numberField('height', 'Height', { unit: 'mm', required: true, above: 0, max: 1e9 }),
];

/**
 * Sides from which a drawing shows the bodies, as seen from its front (ISO 5456-2), and the pictorial view (isometric, ISO
 * 5456-3).
 */
export const DRAWING_SIDES = ['front', 'above', 'below', 'left', 'right', 'rear', 'pictorial'] as const;
export type DrawingSide = (typeof DRAWING_SIDES)[number];
/** Directions along which the front is seen. */
export const SEEN_ALONG = ['-x', '+x', '-y', '+y', '-z', '+z'] as const;
export type SeenAlong = (typeof SEEN_ALONG)[number];
/** Scales of ISO 5455. */
export const DRAWING_SCALES = ['50:1', '20:1', '10:1', '5:1', '2:1', '1:1', '1:2', '1:5', '1:10', '1:20', '1:50', '1:100', '1:200', '1:500'] as const;
/** What a dimension measures. */
export const DRAWN_SIZES = [
  'tip diameter',
  'pitch diameter',
  'root diameter',
  'outside diameter',
  'bore',
  'width',
  'length',
  'height',
  'depth',
  'centre distance',
] as const;
export type DrawnSize = (typeof DRAWN_SIZES)[number];
/** A line of text: no control characters. */
const ONE_LINE = /^[^\u0000-\u001f\u007f]*$/;
const titleField = <const K extends string>(key: K, label: string, help?: string): Field<K, string> =>
  textField(key, label, { most: 60, pattern: ONE_LINE, help });
/** What a drawing states beside its name. */
export const DRAWING_FIELDS = [
  choiceField('shows', 'Shows', ['bodies', 'train map'], { initial: 'bodies' }),
  refField('member', 'Member', 'member', { idAlone: true, help: 'Left open, the whole design is drawn.' }),
  choiceField('paper', 'Paper', ['A4', 'A3', 'A2', 'A1'], { initial: 'A3', help: 'ISO 5457; A4 upright, the others lying.' }),
  choiceField('scale', 'Scale', ['largest that fits', ...DRAWING_SCALES], { initial: 'largest that fits', help: 'ISO 5455.' }),
  choiceField('angle', 'Projection', ['first angle', 'third angle'], { initial: 'first angle', help: 'ISO 5456-2.' }),
  choiceField('along', 'Front seen along', SEEN_ALONG, { initial: '+y' }),
  tableField('sides', 'Views', { columns: [choiceField('side', 'Side', DRAWING_SIDES, { required: true })], most: 20 }),
  tableField('sections', 'Sections', {
    columns: [
      choiceField('along', 'Seen along', SEEN_ALONG, { required: true }),
      numberField('at', 'Cut at', { unit: 'mm', required: true, min: -1e9, max: 1e9 }),
    ],
    most: 8,
    help: 'Planes across an axis of the world, at a coordinate on it. Shafts and screws are not cut lengthwise.',
  }),
  choiceField('teeth', 'Teeth', ['simplified', 'as cut'], { initial: 'simplified', help: 'Simplified by ISO 2203: tip and pitch surfaces.' }),
  flagField('hidden', 'Hidden lines', { initial: false }),
  flagField('overall', 'Overall sizes', { initial: true }),
  tableField('dimensions', 'Dimensions', {
    columns: [
      choiceField('size', 'Size', DRAWN_SIZES, { required: true }),
      refField('a', 'Of', 'element', { required: true, idAlone: true }),
      refField('b', 'And', 'element', { required: true, idAlone: true }),
    ],
    most: 200,
    help: 'Sizes that are written; of one element alone, it is named twice.',
  }),
  flagField('gearData', 'Gear data', { initial: true, help: 'A table of the toothed wheels that are drawn, by ISO 1340 and ISO 1341.' }),
  tableField('starts', 'Stands at', {
    columns: [refField('joint', 'Joint', 'coordinate', { required: true }), numberField('at', 'Place', { required: true, min: -1e9, max: 1e9 })],
    most: 2000,
    help: 'Places of joints, deg or mm; at home where none are stated.',
  }),
  titleField('number', 'Drawing number'),
  titleField('owner', 'Owner', 'Who has the right to the drawing.'),
  titleField('creator', 'Drawn by'),
  titleField('approved', 'Approved by'),
  titleField('date', 'Date of issue'),
];

/** Colours that elements may be given, as they are on paper (sRGB). */
export const COLOUR_VALUES = {
  brass: '#d8b25a',
  bronze: '#b9824a',
  graphite: '#6f6c67',
  steel: '#b4bcc2',
  verdigris: '#7fae9a',
  oxide: '#b9614c',
  sand: '#dccba4',
  oak: '#b58f5f',
  slate: '#8a94a6',
} as const;
export const COLOURS = Object.keys(COLOUR_VALUES) as (keyof typeof COLOUR_VALUES)[];
/** The colour among ours that is nearest to #rrggbb. */
export function nearestColour(hex: string): (typeof COLOURS)[number] {
  const of = partsOfColour(hex);
  const far = (c: (typeof COLOURS)[number]): number => partsOfColour(COLOUR_VALUES[c]).reduce((sum, x, k) => sum + (x - of[k]) ** 2, 0);
  return COLOURS.reduce((best, c) => (far(c) < far(best) ? c : best));
}

/** Colours of members one after the other, and of what stands still, where an element has none of its own. */
export const MEMBER_COLOURS = ['#d9b98a', '#a9c0ae', '#c9a79c', '#b3b6c9', '#d3cf9c', '#a8c2c6'] as const;
export const STILL_COLOUR = '#d8d2c4';
/** What a parts list says of a part, and no computation asks for. */
export const PART_FIELDS = [
  textField('material', 'Material', {
    rare: true,
    most: 60,
    pattern: ONE_LINE,
    help: 'A name for parts lists and drawings; the density is stated by itself.',
  }),
  numberField('cost', 'Cost', { rare: true, min: 0, max: 1e9, help: 'Of one, in the currency of the design.' }),
  textField('note', 'Note', { rare: true, most: 300, pattern: ONE_LINE }),
] as const;
export const PART_KEYS = PART_FIELDS.map((f) => f.key);

/** What may be stated of every element, whatever its kind. */
export const ELEMENT_FIELDS = [
  choiceField('colour', 'Colour', COLOURS, { rare: true, help: 'Shown where the layout is coloured by member; as its member where none is given.' }),
  ...PART_FIELDS,
];

export const MEMBER_FIELDS = [
  choiceField('kind', 'Kind', ['shaft', 'slide', 'carrier', 'lever', 'body'], { required: true }),
  numberField('mass', 'Mass', {
    unit: 'kg',
    symbol: 'm',
    min: 0,
    max: 1e7,
    help: 'Left open, it is the sum of the elements’ shapes times their density.',
  }),
  vectorField('massCentre', 'Centre of mass', { unit: 'mm', rare: true }),
  vectorField('inertia', 'Moments of inertia', {
    unit: 'kg·m²',
    min: 0,
    rare: true,
    help: 'About the centre of mass, along the member’s own axes. None of the three is more than the other two together.',
  }),
  vectorField('inertiaProducts', 'Products of inertia', {
    unit: 'kg·m²',
    rare: true,
    help: 'Of the stated moments: xy, yz, zx with the sign of the tensor, −Σ m x y. None where left open.',
    when: (m) => (m as { inertia?: unknown }).inertia !== undefined,
  }),
  refsField('mayOverlap', 'May overlap', 'member', { rare: true, help: 'Members that this one may stand in, as where a bore is not drawn.' }),
  refsField('stopsAt', 'Stops against', 'member', {
    rare: true,
    help: 'Members that this one cannot pass: it stops where they touch, from either side.',
  }),
  ...SHAFT_RATING_FIELDS,
  ...PART_FIELDS,
];

const unitField = <Q extends Quantified>(q: Q): Field<`${Q}Unit`, string> =>
  choiceField(`${q}Unit`, `Unit of ${q}`, UNIT_CHOICES[q] as readonly string[]);
/** Units in which the page shows each quantity; documents always keep the first. Key in the settings, quantity, field. */
export const UNIT_FIELDS = QUANTIFIED.map((q) => [`${q}Unit`, q, unitField(q)] as const);

/** For the rating: how the drive works, for how long, and what is wanted. Wanted safeties are common practice. */
export const RATING_SETTINGS = [
  numberField('applicationFactor', 'Application factor', {
    symbol: 'KA',
    initial: 1,
    min: 1,
    max: 10,
    help: 'How much more than the load stated the works demand: 1 smooth, 1.25 light, 1.5 moderate, 1.75 heavy shocks (ISO 6336-6).',
  }),
  numberField('ratingHours', 'Wanted life', { unit: 'h', symbol: 'Lh', initial: 10_000, above: 0, max: 1e7 }),
  numberField('flankSafety', 'Wanted safety of flanks', { symbol: 'SHmin', initial: 1, min: 0.1, max: 10 }),
  numberField('rootSafety', 'Wanted safety of roots', { symbol: 'SFmin', initial: 1.4, min: 0.1, max: 10 }),
  numberField('shaftSafety', 'Wanted safety of shafts', { symbol: 'Smin', initial: 1.2, min: 0.1, max: 10, help: 'DIN 743-1 asks for 1.2.' }),
  numberField('bucklingSafety', 'Wanted safety against buckling', { initial: 3, min: 0.1, max: 20, help: 'Of screws; 3 is common practice.' }),
  numberField('brakeSafety', 'Wanted safety of brakes', { initial: 1.5, min: 0.1, max: 10, help: '1.5 to 2 are common practice.' }),
  numberField('viscosity', 'Viscosity of the lubricant', { symbol: 'ν40', initial: 220, min: 10, max: 2000, help: 'mm²/s at 40 °C.' }),
] as const;

/** For forced vibration. */
export const VIBRATION_SETTINGS = [
  numberField('dampingRatio', 'Damping ratio', {
    symbol: 'ζ',
    initial: 0.02,
    min: 0.001,
    max: 0.5,
    help: 'Of all that gives, at resonance; 0.01 to 0.05 are common practice for geared steel trains.',
  }),
] as const;

export const SETTINGS_FIELDS = [
  vectorField('gravity', 'Weight', { unit: 'm/s²', help: 'Acceleration of weight.' }),
  ...RUN_FIELDS,
  ...RATING_SETTINGS,
  ...VIBRATION_SETTINGS,
  flagField('agma', 'Cylindrical gears by AGMA 2101 too', { initial: false }),
  ...UNIT_FIELDS.map(([, , f]) => f),
  wholeField('decimals', 'Decimals', { min: 0, max: 9, help: 'Digits behind the point; those that matter where none are stated.' }),
];
