import { type Stated, choiceField, numberField } from '../fields/fields';
import type { Joint } from '../fields/types';
import { BUSHES } from './bearings';

const [ON_SLIDE, ON_CARRIER] = ['what slides', 'what carries it'] as const;

/** How what slides is guided: shoes on one rail or on two, for the rating. Nothing else depends on it. */
export const GUIDE_FIELDS = [
  numberField('shoeSpacing', 'Shoes apart along the travel', {
    rare: true,
    unit: 'mm',
    above: 0,
    max: 1e6,
    help: 'Middle to middle, two on each rail: for the rating of the guide.',
  }),
  numberField('railSpacing', 'Rails apart', {
    rare: true,
    unit: 'mm',
    initial: 0,
    min: 0,
    max: 1e6,
    help: 'Middle to middle. 0: one rail, which takes no moment about the travel.',
  }),
  choiceField('railsAlong', 'Rails apart along', ['x', 'y'], { rare: true, initial: 'x', help: 'Of the joint’s own axes; its z is the travel.' }),
  choiceField('shoesOn', 'Shoes are on', [ON_SLIDE, ON_CARRIER], { rare: true, initial: ON_SLIDE }),
  numberField('shoesAt', 'Middle of the shoes', {
    rare: true,
    unit: 'mm',
    initial: 0,
    min: -1e6,
    max: 1e6,
    help: 'Along the travel, from the joint’s own place in the reference position.',
  }),
  numberField('shoeArea', 'Bearing area of a shoe', { rare: true, unit: 'mm²', above: 0, max: 1e8, help: 'Of plain shoes.' }),
  choiceField('shoeMaterial', 'Material of shoes', BUSHES, { rare: true, help: 'Of plain shoes.' }),
  numberField('shoeDynamic', 'Dynamic rating C of a carriage', {
    rare: true,
    unit: 'N',
    above: 0,
    max: 1e9,
    help: 'Of rolling guides, for 100 km (ISO 14728-1).',
  }),
  numberField('shoeStatic', 'Static rating C₀ of a carriage', { rare: true, unit: 'N', above: 0, max: 1e9, help: 'ISO 14728-2.' }),
] as const;
/** A sliding joint that may state its guide. */
export type GuidedJoint = Joint & Stated<typeof GUIDE_FIELDS>;
/** Whether the shoes stay where they are while the member slides through them. */
export const shoesStay = (j: GuidedJoint): boolean => j.shoesOn === ON_CARRIER;
