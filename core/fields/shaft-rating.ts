import { FIT_PATTERN } from '../fits/index';
import { choiceField, numberField, tableField, textField, wholeField } from './fields';

/** Steels of shafts: structural (EN 10025-2), heat-treatable (EN ISO 683-1 and -2), case-hardening (EN ISO 683-3). */
export const SHAFT_STEELS = [
  'S235',
  'S275',
  'S355',
  'E295',
  'E335',
  'E360',
  'C45E quenched and tempered',
  'C60E quenched and tempered',
  '34CrMo4 quenched and tempered',
  '42CrMo4 quenched and tempered',
  '34CrNiMo6 quenched and tempered',
  '16MnCr5 case-hardened',
  '18CrNiMo7-6 case-hardened',
] as const;
export type ShaftSteel = (typeof SHAFT_STEELS)[number];
/** How loads of a shaft come and go besides what a load case or run says. */
export const LOAD_COURSES = ['steady', 'pulsating', 'reversing'] as const;
/** Where a shaft is weakened. */
export const NOTCH_FORMS = ['shoulder', 'round groove', 'ring groove', 'press fit', 'plain'] as const;
export type NotchForm = (typeof NOTCH_FORMS)[number];
const ofShaft = { rare: true, when: (m: { readonly kind?: unknown }): boolean => m.kind === 'shaft' } as const;
const MIDDLE = numberField('at', 'Middle along the axis', { unit: 'mm', required: true, min: -1e6, max: 1e6 });
const BEARING_LENGTH = numberField('length', 'Bearing length', { unit: 'mm', required: true, above: 0, max: 1e5 });
/** What is stated of a shaft for its rating. Nothing else depends on it. */
export const SHAFT_RATING_FIELDS = [
  choiceField('steel', 'Steel', SHAFT_STEELS, { rare: true, help: 'For the rating of shafts (DIN 743) and screws.' }),
  numberField('tensileStrength', 'Tensile strength', {
    rare: true,
    unit: 'MPa',
    symbol: 'σB',
    above: 0,
    max: 3000,
    help: 'At its size, stated in place of that of the steel.',
  }),
  numberField('yieldStrength', 'Yield strength', {
    rare: true,
    unit: 'MPa',
    symbol: 'σS',
    above: 0,
    max: 3000,
    help: 'At its size, stated in place of that of the steel.',
  }),
  choiceField('loadCourse', 'Torque and thrust', LOAD_COURSES, {
    ...ofShaft,
    initial: 'pulsating',
    help: 'Pulsating: they come and go with every start. Bending of a shaft that turns always reverses.',
  }),
  tableField('notches', 'Shoulders, grooves, fits', {
    ...ofShaft,
    columns: [
      numberField('at', 'Place along the axis', { unit: 'mm', required: true, min: -1e6, max: 1e6 }),
      choiceField('form', 'Form', NOTCH_FORMS, { required: true }),
      numberField('diameter', 'Diameter d', { unit: 'mm', above: 0, max: 1e5 }),
      numberField('outer', 'Diameter beside it D', { unit: 'mm', above: 0, max: 1e5 }),
      numberField('radius', 'Fillet radius r', { unit: 'mm', above: 0, max: 1e4 }),
      numberField('width', 'Width of the groove m', { unit: 'mm', above: 0, max: 1e4 }),
      numberField('roughness', 'Roughness Rz', { min: 1, max: 200 }),
    ],
    most: 50,
    help: 'Diameters left open are those of the round bars there. Rz in μm, 10 where nothing is stated. Plain: no notch.',
  }),
  tableField('keys', 'Keys', {
    ...ofShaft,
    columns: [
      MIDDLE,
      BEARING_LENGTH,
      numberField('height', 'Height h', { unit: 'mm', above: 0, max: 1e3 }),
      numberField('depth', 'Depth in the shaft t1', { unit: 'mm', above: 0, max: 1e3 }),
      wholeField('count', 'Number round the shaft', { min: 1, max: 2 }),
      numberField('strength', 'Yield strength of key and hub', { unit: 'MPa', above: 0, max: 3000 }),
    ],
    most: 50,
    help: 'Parallel keys. Height and depth left open are those of DIN 6885-1 for the diameter of the round bar there.',
  }),
  tableField('fits', 'Press fits', {
    ...ofShaft,
    columns: [
      MIDDLE,
      numberField('length', 'Length', { unit: 'mm', required: true, above: 0, max: 1e5 }),
      textField('fit', 'Fit', { pattern: FIT_PATTERN, most: 12, help: 'the hole first, as in H7/s6' }),
      numberField('interference', 'Interference U', { unit: 'mm', above: 0, max: 10 }),
      numberField('outer', 'Outside diameter of the hub', { unit: 'mm', required: true, above: 0, max: 1e5 }),
      numberField('diameter', 'Diameter d', { unit: 'mm', above: 0, max: 1e5 }),
      numberField('friction', 'Friction μ', { above: 0, max: 1 }),
      numberField('strength', 'Yield strength of the hub', { unit: 'MPa', above: 0, max: 3000 }),
      numberField('roughness', 'Roughness Rz', { above: 0, max: 40 }),
    ],
    most: 50,
    help: 'A fit of ISO 286 (H7/s6), or the interference of the diameter that counts, what is smoothed away taken off. Rz in μm, of shaft and hub: smoothing of a fit. The diameter left open is that of the round bar there.',
  }),
  tableField('splines', 'Splines', {
    ...ofShaft,
    columns: [
      MIDDLE,
      BEARING_LENGTH,
      wholeField('teeth', 'Teeth', { required: true, min: 2, max: 500 }),
      numberField('inner', 'Diameter inside', { unit: 'mm', required: true, above: 0, max: 1e5 }),
      numberField('outer', 'Diameter outside', { unit: 'mm', required: true, above: 0, max: 1e5 }),
      numberField('strength', 'Yield strength of the hub', { unit: 'MPa', above: 0, max: 3000 }),
    ],
    most: 50,
    help: 'Between the diameters the flanks bear: of involute splines the tip of the hub and the tip of the shaft.',
  }),
  tableField('pins', 'Cross pins', {
    ...ofShaft,
    columns: [
      numberField('at', 'Place along the axis', { unit: 'mm', required: true, min: -1e6, max: 1e6 }),
      numberField('diameter', 'Diameter d', { unit: 'mm', required: true, above: 0, max: 1e4 }),
      numberField('outer', 'Outside diameter of the hub', { unit: 'mm', required: true, above: 0, max: 1e5 }),
      numberField('pinStrength', 'Tensile strength of the pin', { unit: 'MPa', above: 0, max: 3000 }),
      numberField('strength', 'Tensile strength of the hub', { unit: 'MPa', above: 0, max: 3000 }),
    ],
    most: 50,
    help: 'Smooth pins across shaft and hub; the diameter of the shaft is that of the round bar there.',
  }),
] as const;
