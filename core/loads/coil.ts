import { type Stated, choiceField, numberField } from '../fields/fields';

/** What a coil of round wire is, by what loads it. */
export const COIL_FORMS = ['compression', 'extension', 'torsion'] as const;
/** Patented cold drawn wire (EN 10270-1). */
export const SPRING_WIRES = ['SL', 'SM', 'SH'] as const;
export type SpringWire = (typeof SPRING_WIRES)[number];

const ofCoil = { rare: true, when: (l: { coil?: unknown }): boolean => l.coil !== undefined } as const;
/** What is stated of the coil of a spring for its rating. Nothing else depends on it. */
export const COIL_FIELDS = [
  choiceField('coil', 'Coil', COIL_FORMS, { rare: true, help: 'For the rating by EN 13906; torsion for a spring of a turning joint.' }),
  numberField('wireDiameter', 'Wire diameter', { ...ofCoil, unit: 'mm', symbol: 'd', above: 0, max: 100 }),
  numberField('coilDiameter', 'Mean coil diameter', { ...ofCoil, unit: 'mm', symbol: 'D', above: 0, max: 1000 }),
  numberField('coils', 'Active coils', { ...ofCoil, symbol: 'n', above: 0, max: 1000 }),
  numberField('coilLength', 'Unloaded length of the coil', {
    rare: true,
    unit: 'mm',
    symbol: 'L0',
    above: 0,
    max: 1e5,
    when: (l: { coil?: unknown }): boolean => l.coil === 'compression',
  }),
  choiceField('wire', 'Wire', SPRING_WIRES, { ...ofCoil, help: 'EN 10270-1, of low (SL), medium (SM) or high (SH) strength.' }),
  numberField('wireStrength', 'Tensile strength of the wire', {
    ...ofCoil,
    unit: 'MPa',
    symbol: 'Rm',
    above: 0,
    max: 5000,
    help: 'Stated in place of that of the wire.',
  }),
] as const;
/** What is stated of the coil of a spring. */
export type Coil = Stated<typeof COIL_FIELDS>;
