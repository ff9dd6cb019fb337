export { insertStage, withInputShaft } from './insert';
export { type Reached, STAGE_KINDS, canBegin, reachRatio, stageKind, stageProblem, stageValues } from './kinds';
export {
  type Sharing,
  type SplitStages,
  type UnusualStage,
  MOST_STAGES,
  inertiaOf,
  insertStages,
  splitRatio,
  splitStages,
  unusualStage,
} from './split';
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
  membersBehind,
  moveStage,
  replaceStage,
  stageOf,
  stageRatio,
} from './rework';
