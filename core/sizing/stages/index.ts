export { insertStage, withInputShaft } from './insert';
export { STAGE_KINDS, canBegin, stageKind, stageProblem, stageValues } from './kinds';
export { countsFor } from './sizes';
export type { StageKind, StageMade, StageProblem, StageRequest } from './protocol';
export type { Values } from './values';
