/**
 * The design document, version 2: what the designer stated, and nothing derived.
 *
 * Lengths mm, angles deg, mass kg, force N, torque N·m, speed rev/min or mm/s, time s. Everything is stated where it
 * stands in the reference position, in which every joint coordinate is zero.
 */
import type { Vec3 } from '../math/vec3';

export type Id = string;
/** A number, or an exact fraction in quotes: "25.4/12". */
export type Exact = number | string;

export const DESIGN_FORMAT = 'unirota-design';
export const DESIGN_VERSION = 2;
/** The fixed body. */
export const FRAME = 'frame';

export interface Place {
  /** Origin: of a member in the world, of an element or a joint in its member. mm */
  at?: Vec3;
  /** Direction of the local z axis: of a shaft, of a slide. */
  axis?: Vec3;
  /** Direction near which the local x axis lies. */
  up?: Vec3;
}

export type MemberKind = 'shaft' | 'slide' | 'carrier' | 'lever' | 'body';

export interface Member extends Place {
  id: Id;
  name: string;
  kind: MemberKind;
  /** Stated mass, kg; otherwise the sum of the elements' shapes times their density. */
  mass?: number;
  /** Stated centre of mass in the member's frame, mm. */
  massCentre?: Vec3;
  /** Stated moments of inertia about the centre of mass along the member's axes, kg·m². */
  inertia?: Vec3;
  /** Members that it may stand in; members that it cannot pass. */
  mayOverlap?: readonly Id[];
  stopsAt?: readonly Id[];
}

export interface Joint extends Place {
  id: Id;
  name?: string;
  type: string;
  parent: Id;
  child: Id;
  /** Stops and rest position of the joint's freedoms, in the order in which its kind has them, deg or mm. */
  lower?: Exact;
  upper?: Exact;
  home?: Exact;
  lower2?: Exact;
  upper2?: Exact;
  home2?: Exact;
  lower3?: Exact;
  upper3?: Exact;
  home3?: Exact;
  /** Faces that meet at the stops, such as "collar:+z". */
  lowerFaces?: readonly string[];
  upperFaces?: readonly string[];
  /** Coefficient of restitution of what comes to a stop. */
  restitution?: number;
}

export interface Element extends Place {
  id: Id;
  name: string;
  type: string;
  member: Id;
  /** One of the named colours, for the picture alone. */
  colour?: string;
}

export interface Coupling {
  id: Id;
  name?: string;
  type: string;
  /** What it ties: two elements or joints, or the wheels of a band. */
  a?: Id;
  b?: Id;
  wheels?: readonly Id[];
}

export interface Source {
  id: Id;
  name: string;
  type: string;
  joint: Id;
  /** Nominal speed, rev/min or mm/s; its sign is the sense of the joint. */
  speed?: number;
}

export interface Load {
  id: Id;
  name: string;
  type: string;
}

export interface Wanted {
  id: Id;
  name: string;
  type: string;
}

/** A stage, or any other items that a person keeps together under a name. */
export interface Group {
  id: Id;
  name: string;
  items: Id[];
}

/** A named set of loads and source speeds: lifting, holding, lowering. What it does not name is as stated. */
export interface LoadCase {
  id: Id;
  name: string;
  /** Loads scaled by a factor; 0 leaves one out. */
  loads?: readonly { load: Id; factor: number }[];
  /** Nominal speeds of sources, rev/min or mm/s. */
  speeds?: readonly { source: Id; speed: number }[];
}

/** A run as it is kept: how it is computed. What comes of it is computed again wherever it is shown. */
export interface KeptRun {
  id: Id;
  name: string;
  /** When it is over: after the duration, one turn or the whole way of the first source at its nominal speed, or at rest. */
  until?: string;
  /** s, and instants recorded. */
  duration?: number;
  frames?: number;
  /** Sources let go. */
  letGo?: boolean;
  case?: Id;
  /** Places of joints where it begins, deg or mm; at home where none are stated. */
  starts?: readonly { joint: string; at: number }[];
  /** The first source follows what was recorded, deg or mm from where the run begins. */
  recorded?: readonly { time: number; value: number }[];
}

/** A load sheet as it is kept: of which member, and when. Its figures are computed again wherever it is shown. */
export interface KeptSheet {
  id: Id;
  name: string;
  member: Id;
  /** At an instant of a kept run, s; otherwise where joints stand, deg or mm, in steady motion. */
  run?: Id;
  time?: number;
  case?: Id;
  starts?: readonly { joint: string; at: number }[];
  /** What a strength analysis with this sheet found, and of what it was made: MPa, mm. */
  stress?: number;
  stressAt?: Vec3;
  change?: number;
  yieldStrength?: number;
  size?: number;
  young?: number;
  poisson?: number;
  madeOf?: string;
}

/**
 * A view of the layout that was kept: direction from which it is seen, what is up, what is in the middle (mm), height of the
 * picture (mm).
 */
export interface SavedView {
  id: Id;
  name: string;
  from: Vec3;
  up: Vec3;
  target: Vec3;
  height: number;
}

export interface Settings {
  /** Acceleration of weight, m/s². */
  gravity?: Vec3;
  /** Run: s, and instants recorded. */
  duration?: number;
  frames?: number;
  /**
   * Units in which the page shows quantities, and digits behind the point. Documents keep mm, mm/s, N, N·m, W and MPa whatever
   * these say.
   */
  lengthUnit?: string;
  speedUnit?: string;
  forceUnit?: string;
  torqueUnit?: string;
  powerUnit?: string;
  stressUnit?: string;
  decimals?: number;
}

export interface Design {
  format: typeof DESIGN_FORMAT;
  version: typeof DESIGN_VERSION;
  name: string;
  note?: string;
  settings?: Settings;
  members: Member[];
  joints: Joint[];
  elements: Element[];
  couplings: Coupling[];
  sources: Source[];
  loads: Load[];
  wanted: Wanted[];
  groups?: Group[];
  cases?: LoadCase[];
  runs?: KeptRun[];
  sheets?: KeptSheet[];
  views?: SavedView[];
  /** The unit and expression that a person typed for a value, for display only: "id.field" → "3/4 in". */
  typed?: Record<string, string>;
}

export type Severity = 'fault' | 'caution' | 'note';

/** Something the checks have to say: what, how bad, about which items, in a sentence. */
export interface Finding {
  code: string;
  severity: Severity;
  /** The step of the work in which it is cured. */
  step: string;
  ids: Id[];
  message: string;
  /** The field that cures it. */
  field?: string;
  /** Ways out, by name. */
  cures?: readonly string[];
  /** Items of the root cause, where this only follows from one that another finding names. */
  because?: Id[];
}

/** An empty design of the current version. */
export const emptyDesign = (name: string): Design => ({
  format: DESIGN_FORMAT,
  version: DESIGN_VERSION,
  name,
  members: [],
  joints: [],
  elements: [],
  couplings: [],
  sources: [],
  loads: [],
  wanted: [],
});
