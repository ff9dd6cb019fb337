import { type Stated, choiceField, numberField, wholeField } from '../fields/fields';

/** Groups of gear materials by how they are made hard. */
export const MATERIAL_GROUPS = [
  'normalized steel',
  'through-hardened steel',
  'case-hardened steel',
  'induction-hardened steel',
  'nitrided steel',
  'grey iron',
  'nodular iron',
] as const;
export type MaterialGroup = (typeof MATERIAL_GROUPS)[number];

/** Accuracy and roughness that count where none are stated: as usual milled teeth. */
export const USUAL_GRADE = 8;
export const USUAL_ROUGHNESS = 10;

/** What is stated of a toothed element for its rating. Nothing else depends on it. */
export const RATING_FIELDS = [
  choiceField('materialGroup', 'Material group', MATERIAL_GROUPS, { rare: true, help: 'For the rating: limits by ISO 6336-5, quality MQ.' }),
  numberField('hardness', 'Surface hardness', { rare: true, min: 50, max: 1200, help: 'HV; HBW of soft materials is about the same.' }),
  numberField('contactLimit', 'Contact endurance limit', {
    rare: true,
    unit: 'MPa',
    symbol: 'σHlim',
    above: 0,
    max: 5000,
    help: 'Stated in place of the limit of the material group.',
  }),
  numberField('bendingLimit', 'Root endurance limit', {
    rare: true,
    unit: 'MPa',
    symbol: 'σFlim',
    above: 0,
    max: 3000,
    help: 'Stated in place of the limit of the material group.',
  }),
  wholeField('accuracyGrade', 'Accuracy grade', {
    rare: true,
    symbol: 'Q',
    initial: USUAL_GRADE,
    min: 1,
    max: 12,
    help: 'ISO 1328-1; of bevel gears ISO 17485.',
  }),
  numberField('roughness', 'Roughness Rz', {
    rare: true,
    initial: USUAL_ROUGHNESS,
    above: 0,
    max: 40,
    help: 'μm, of flanks and fillets; ISO 6336-3 goes to 40.',
  }),
] as const;
/** What is stated of one, from these fields. */
export type RatedStatement = Stated<typeof RATING_FIELDS>;
