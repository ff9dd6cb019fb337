/**
 * The engine as page, server and command line call it: nobody reaches deeper. A document is opened (`open`), worked out
 * (`analyse`), moved by hand (`Hand`), swept, run in time (`run`, `Runner`), searched for fixes (`curesOf`) and for
 * overlaps (`overlaps`), and built on (`insertStage`, edits). What a thing is (elements, document, units, math) stands in
 * rooms of its own, which are open.
 */
import { type Worked, analyse } from './checks/index';
import { type Design, type Problem, readDesign } from './document/index';
import { type LoadSheet, type Reaction, loadSheet, reactionAt } from './forces/index';
import type { Id } from './fields/types';
import type { Compiled } from './kinematics/index';
import { type RunResult, forcesAt } from './motion/index';

/** A document that can be read, ready to be worked out; or what is wrong with it. */
export type Opened =
  | {
      design: Design;
      /** Works the design out, once. */
      snapshot(): Worked;
      problems?: undefined;
    }
  | { problems: Problem[]; design?: undefined };

/** Reads a document as it comes from a file or a wire. Never throws. */
export function open(document: unknown): Opened {
  const read = readDesign(document);
  if (read.problems) return { problems: read.problems };
  const { design } = read;
  let made: Worked | undefined;
  return { design, snapshot: () => (made ??= analyse(design)) };
}

/** The forces at one instant of a run, inertia counted: reactions and load sheets. */
export interface Instant {
  /** What a joint carries, on its child or parent, in a member's frame (of the world where none is named), N and N·m. */
  reaction(joint: Id, on?: 'child' | 'parent', inFrame?: Id): Reaction | undefined;
  /** All forces on a member, in its own frame where none is named; they sum to zero. */
  sheet(member: Id, inFrame?: Id): LoadSheet;
}

/** Takes up a frame of a run again, on a pose of its own. */
export function instantOf(compiled: Compiled, run: RunResult, frame: number): Instant {
  const { forces } = forcesAt(compiled, run, frame);
  return {
    reaction: (joint, on = 'child', inFrame) => reactionAt(forces, joint, on, inFrame, true),
    sheet: (member, inFrame = member) => loadSheet(forces, member, inFrame, true),
  };
}

export {
  type Overlap,
  type RatioLine,
  type Ready,
  type Snapshot,
  type Worked,
  analyse,
  overlapOf,
  overlaps,
  piInverseText,
  ratioTexts,
  ready,
} from './checks/index';
export { COUPLING_KINDS, couplingKind } from './couplings/index';
export { CATALOGUE, STEPS, type Code, type Step } from './findings/index';
export {
  type Ledger,
  type LoadEffect,
  type Reaction,
  type LoadSheet,
  type WantedResult,
  type Forces,
  type ShaftDiagram,
  largestAlong,
  shaftDiagram,
  type Wrench,
  ledger,
  loadEffects,
  loadSheet,
  nominalRate,
  senseOf,
  bearingForces,
  reactionAt,
  torqueAt,
} from './forces/index';
export { type CarriedJoint, JOINT_KINDS, bearingSolids, jointKind } from './joints/index';
export { type ActingLoad, loadSize } from './loads/index';
export {
  type Compiled,
  type Coordinate,
  type MappedStop,
  type Pose,
  compile,
  endSeen,
  exactRatio,
  movedFrame,
  slidesAt,
  poseOf,
  setPhases,
  stopsOf,
  type SwingingPawl,
  swingingPawls,
} from './kinematics/index';
export {
  type Held,
  type Moved,
  type Quantity,
  type RunEvent,
  type RunOptions,
  type RunResult,
  type Sweep,
  Hand,
  Runner,
  advantageOver,
  coordinatesAt,
  dutiesOf,
  type DriveLoad,
  driveLoad,
  forcesAtTime,
  framesAround,
  framesWithin,
  motionProfile,
  type Instants,
  type MovedFree,
  movedFree,
  profileLength,
  profileProblem,
  sourcePeaks,
  type RunForces,
  type ShaftEnvelope,
  type SourceDuty,
  shaftEnvelope,
  figuresOf,
  quantities,
  run,
  runBuffers,
  seriesOf,
  sweep,
  thinned,
  thinnedOver,
  worstInstant,
} from './motion/index';
export * from './edits/index';
export * from './map/index';
export {
  CHAPTERS,
  CHAPTER_KEYS,
  type ChapterKey,
  type CheckLine,
  type CheckState,
  type Report,
  type ReportOptions,
  checklistOf,
  remarksLine,
  letterOf,
  reportOf,
} from './report/index';
export {
  ARROW,
  type Drawn,
  type DrawnBody,
  type DrawnPath,
  type DrawnView,
  LINES,
  LINE_KINDS,
  type LineKind,
  type Mark,
  PAPER_SIZES,
  type PaperSize,
  type Projection,
  type Sheet,
  type TextMark,
  type TitleData,
  bodiesOf,
  drawSheet,
  drawnOnce,
  inView,
  newDrawing,
  takenBy,
  viewsOf,
} from './drawing/index';
export { ID_COLUMN, type Cell, type Table, type TableColumn, heading, tablesOf, variantTable } from './tables/index';
export {
  type Figure,
  type RatedWhat,
  type Rating,
  type RatingLine,
  type RatingFix,
  type Unrated,
  byReason,
  canBeRated,
  canPropose,
  ratingFixes,
  ratingSizes,
  ratingOf,
  withRatingFix,
} from './rating/index';
export * from './sizing/index';
export { type Excitation, type Place, type ShownMode, type Vibration, type Yielding, vibrationOf } from './vibration/index';
export {
  type BodyPart,
  type Material,
  type NodeForces,
  type NoModel,
  type SolidMesh,
  type StrengthBody,
  type StrengthModel,
  MOST_ELEMENTS,
  type StressField,
  cutAcross,
  greatestChange,
  mendMesh,
  pointAt,
  shapeChange,
  STEEL,
  elementsOf,
  strengthBody,
  strengthModel,
  stressField,
  suggestedSize,
} from './strength/index';
export { Bodies, type Interference } from './kinematics/index';
export * from './search/index';
export { type Sketch, sketch } from './sketch/index';
export { gearOutline } from './teeth/index';
