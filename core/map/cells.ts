import type { Id } from '../document/index';
import type { PiRatio } from '../math/index';
import type { TrainEdge } from './train';

/** A place for a text: its left or right end on the line of writing, and the room that it has. */
export interface Cell {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** A member as a line of the map. */
export interface MapMember {
  id: Id;
  name: string;
  slide: boolean;
  /** Of a slide that stands upright: whether its positive sense goes up (1) or down (−1); 0 of others. */
  upright: 1 | -1 | 0;
  /** Line from x0 to x1 at height y. */
  x0: number;
  x1: number;
  y: number;
  /** Where its name, speed and torque stand. */
  label: Cell;
  /** Members like it that are drawn with it. */
  alike: Id[];
  source?: { id: Id; type: string };
  wanted: Id[];
  joint?: Id;
  /** Middle of its bearing on the frame. */
  bearing?: number;
  loads: { id: Id; name: string }[];
}

/** One wheel, thread or pin on a line: where a coupling's vertical meets it. */
export interface Touch {
  member: Id;
  x: number;
  y: number;
}

/** A coupling as a symbol between lines. */
export interface MapCoupling {
  key: string;
  id: Id;
  name: string;
  type: string;
  x: number;
  /** From the driving line to the others, top to bottom of them all; of the frame it has a stub to `ground`. */
  touches: Touch[];
  /** Where the first two wheels meet, between both lines, and their far ends. */
  meet: number;
  farA: number;
  farB: number;
  /** End of the stub where one side is the frame. */
  ground?: { x: number; y: number };
  stated: string;
  ratio?: PiRatio;
  /** Unit of the ratio: of a turn that becomes a travel, or back. */
  unit: '' | 'mm/rev' | 'rev/mm';
  /** Coordinate of the first driven line, −1 where it has none. */
  driven: number;
  label: Cell;
  /** Lines that cross it without being tied: [x, y]. */
  crossings: [number, number][];
  /** The coupling's own second element stands on the first line. */
  turned: boolean;
  set?: SetDrawing;
  box?: { x: number; y: number; width: number; height: number; members: { id: Id; name: string }[]; joints: number };
}

/** A planetary set: its verticals, the pin of the planets, and what is held. */
export interface SetDrawing {
  verticals: { x: number; from: number; to: number; meet: number; held: boolean; ring: boolean; text: string }[];
  pin: { x: number; from: number; to: number };
}

export interface MapLayout {
  members: MapMember[];
  couplings: MapCoupling[];
  width: number;
  height: number;
}

/** Height of a text, and about how wide one of its letters is in the condensed face. */
export const LINE = 15;
export const LETTER = 6.1;
export const widthOf = (text: string): number => Math.ceil(text.length * LETTER) + 4;
/** Room for live figures: "−1234 rev/min ↻  1234 N·m". */
export const LIVE = widthOf('−1234 rev/min ↻ 12340 N·m');
/** Room for a ratio. */
export const RATIO = widthOf('−102π mm/rev');
export const LEFT = 58;
export const TOP = 12;
/** Above a line stand loads and far ends of wheels, below it two lines of text. */
export const ABOVE = 30;
export const BELOW = 44;
/** Between lines that share a height without sharing an axis. */
export const APART = 70;
export const FAR = 24;

export interface Row {
  members: Id[];
  /** Planets keep their height to themselves. */
  alone: boolean;
  below: number;
  above: number;
  y: number;
}

export interface Column {
  edge: TrainEdge;
  /** The member from which the train comes to it. */
  from: Id;
  level: number;
  children: Id[];
  x: number;
  width: number;
  /** Where each end meets it. */
  at: Map<Id, number>;
}

export interface Columns {
  list: Column[];
  depth: Map<Id, number>;
  /** Left end of the column of texts of each level. */
  texts: number[];
  roots: Id[];
}

/** Height of the box of a linkage that is drawn shut. */
export const boxHeight = (members: number): number => 42 + LINE * Math.min(members, 6);
