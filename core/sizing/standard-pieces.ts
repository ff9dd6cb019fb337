import { type Design, emptyDesign } from '../document/index';
import { pieceOf } from '../edits/index';
import { insertStage, withInputShaft } from './stages/index';

/** Stages whose output is offered as a piece, and how it is called. */
const OUTPUTS = [
  ['spur', 'Spur wheel on a shaft'],
  ['internal', 'Internal wheel on a shaft'],
  ['bevel', 'Bevel gear on a shaft'],
  ['rack', 'Rack on a slide'],
  ['v-belt', 'V-belt pulley on a shaft'],
  ['worm', 'Worm wheel on a shaft'],
] as const;

/** Pieces that everybody has: what a stage puts in behind a wheel, with the mesh by which it goes onto another one. */
export function standardPieces(): Design[] {
  return OUTPUTS.flatMap(([kind, name]) => {
    const begun = withInputShaft(emptyDesign(name), { type: 'motor', name: 'Motor' });
    const made = insertStage(begun.design, { kind, from: begun.output });
    const piece = made && pieceOf(made.design, [made.output], name);
    return piece ? [piece] : [];
  });
}
