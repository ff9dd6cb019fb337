export { insertStage, withInputShaft } from './insert';
export { type Reached, STAGE_KINDS, canBegin, reachRatio, stageKind, stageProblem, stageValues } from './kinds';
export { countsFor } from './sizes';
export type { StageKind, StageMade, StageProblem, StageRequest } from './protocol';
export type { Values } from './values';
export {
  type NotReworked,
  type Reworked,
  type StagePart,
  copyStage,
  couldReplace,
  deleteStage,
  insertBefore,
  moveStage,
  replaceStage,
  stageOf,
  stageRatio,
} from './rework';
