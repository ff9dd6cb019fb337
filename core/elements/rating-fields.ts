import { choiceField, numberField, wholeField } from '../fields/fields';
import { HARDNESS, MATERIAL_GROUPS } from './material-groups';

/** What is stated of a toothed element for its rating. Nothing else depends on it. */
export const RATING_FIELDS = [
  choiceField('materialGroup', 'Material group', MATERIAL_GROUPS, { rare: true, help: 'For the rating: limits by ISO 6336-5, quality MQ.' }),
  numberField('hardness', 'Surface hardness', { rare: true, ...HARDNESS, help: 'HV; HBW of soft materials is about the same.' }),
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
  wholeField('accuracyGrade', 'Accuracy grade', { rare: true, symbol: 'Q', initial: 8, min: 1, max: 12, help: 'ISO 1328-1.' }),
  numberField('roughness', 'Roughness Rz', { rare: true, initial: 10, above: 0, max: 100, help: 'μm, of flanks and fillets.' }),
];
/** What is stated of one, from these fields. */
export interface RatedStatement {
  materialGroup?: (typeof MATERIAL_GROUPS)[number];
  hardness?: number;
  contactLimit?: number;
  bendingLimit?: number;
  accuracyGrade?: number;
  roughness?: number;
}
