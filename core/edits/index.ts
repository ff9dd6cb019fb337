export * from './accepted';
export * from './adding';
export * from './cases';
export * from './deletion';
export { memberFrame } from './frames';
export * from './groups';
export { beginningSizes, isInch } from './inch';
export * from './items';
export * from './new-load';
export { withRatchetSense } from './pawl';
export { type PartLine, withPartsList } from './parts-list';
export {
  type Connection,
  type Insertion,
  OUTSIDE,
  connectionsOf,
  fittedTo,
  itemsOf as itemsOfPiece,
  numbersOf,
  pieceOf,
  sameTargets,
  targetsOf,
  withNewerPiece,
  withPiece,
} from './pieces';
export * from './place';
export { namesOf, namesQuantity, unitOfQuantity, usesOf, withFormulas, withNewQuantity, withQuantity, withoutQuantity } from './quantities';
export { hasStrength, withMaterialGroup, withSteel, withoutMaterialGroup, withoutSteel } from './rating-material';
export * from './saved';
export * from './settle';
export * from './shapes';
export { gearsOfPair, withBalancedShifts } from './shifts';
export * from './values';
export * from './variants';
export * from './views';
