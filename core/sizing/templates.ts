import { emptyDesign } from '../document/index';
import type { Design, Id } from '../fields/types';
import { insertStage, withInputShaft, type Values } from './stages/index';

/** A train to begin from: a source and the stages that follow each other, with sizes that go together. */
export interface Template {
  readonly name: string;
  readonly does: string;
  readonly source: { type: string; name: string; fields?: Record<string, unknown> };
  readonly stages: readonly { kind: string; values?: Values }[];
}

const CRANK = { type: 'crank', name: 'Crank', fields: { speed: 30 } };
const MOTOR = { type: 'motor', name: 'Motor', fields: { speed: 1440 } };

/** Trains to begin from. */
export const TEMPLATES: readonly Template[] = [
  {
    name: 'Cranked rack lift',
    does: 'crank, spur pair, rack',
    source: CRANK,
    stages: [{ kind: 'spur', values: { z1: 18, z2: 72, module: 3 } }, { kind: 'rack' }],
  },
  {
    name: 'Worm and screw lift',
    does: 'motor, worm, lifting screw',
    source: MOTOR,
    stages: [{ kind: 'worm' }, { kind: 'screw' }],
  },
  {
    name: 'Belt and two spur pairs',
    does: 'motor, V-belt, two spur pairs',
    source: MOTOR,
    stages: [{ kind: 'v-belt' }, { kind: 'spur' }, { kind: 'spur', values: { module: 3 } }],
  },
  {
    name: 'Planetary drive to a right angle',
    does: 'motor, planetary set, bevel pair',
    source: MOTOR,
    stages: [{ kind: 'planetary' }, { kind: 'bevel' }],
  },
  {
    name: 'Toothed belt to a slide',
    does: 'motor, toothed belt, pinion and rack',
    source: MOTOR,
    stages: [{ kind: 'toothed-belt' }, { kind: 'rack' }],
  },
];

/** A design made from a template, under a name. */
export function fromTemplate(t: Template, name = t.name): Design {
  const begun = withInputShaft(emptyDesign(name), t.source);
  let { design } = begun;
  let from: Id = begun.output;
  for (const s of t.stages) {
    const made = insertStage(design, { ...s, from });
    if (!made) continue;
    ({ design } = made);
    from = made.output;
  }
  return design;
}
