/**
 * The design document, version 3: what the designer stated, and nothing derived.
 *
 * Lengths mm, angles deg, mass kg, force N, torque N·m, speed rev/min or mm/s, time s. Everything is stated where it
 * stands in the reference position, in which every joint coordinate is zero.
 */
import type {
  ACCEPTED_FIELDS,
  CASE_FIELDS,
  DRAWING_FIELDS,
  DRIVES_FIELD,
  ELEMENT_FIELDS,
  ELEMENT_OWN,
  GROUP_FIELDS,
  JOINT_FIELDS,
  JOINT_OWN,
  KEPT_RUN_FIELDS,
  KEPT_SHEET_FIELDS,
  MEMBER_FIELDS,
  ORIGIN_FIELDS,
  PLACE_FIELDS,
  QUANTITY_FIELDS,
  SETTINGS_FIELDS,
  SPEED_FIELD,
  VARIANT_FIELDS,
  VIEW_FIELDS,
} from './common';
import type { Id, Needed, Row, Stated } from './fields';

export type { Exact, Id } from './fields';

export const DESIGN_FORMAT = 'unirota-design';
export const DESIGN_VERSION = 3;
/** The fixed body. */
export const FRAME = 'frame';

interface Named {
  id: Id;
  name: string;
}
interface OfNoKind {
  id: Id;
  name?: string;
}
interface OfKind {
  id: Id;
  /** Where somebody gave it one. */
  name?: string;
  type: string;
}
interface NamedOfKind extends OfKind {
  name: string;
}

export type Place = Stated<typeof PLACE_FIELDS>;
export interface Member extends Named, Place, Needed<typeof MEMBER_FIELDS, 'kind'> {}
export type MemberKind = Member['kind'];
export interface Joint extends OfKind, Place, Row<typeof JOINT_OWN>, Stated<typeof JOINT_FIELDS> {}
export interface Element extends NamedOfKind, Place, Row<typeof ELEMENT_OWN>, Stated<typeof ELEMENT_FIELDS> {}
export interface Coupling extends OfKind {
  /** What it ties, by the fields of its kind: two elements or joints, or the wheels of a band. */
  a?: Id;
  b?: Id;
  wheels?: readonly Id[];
}
export interface Source extends NamedOfKind, Row<readonly [typeof DRIVES_FIELD]>, Stated<readonly [typeof SPEED_FIELD]> {}
export type Load = NamedOfKind;
export type Wanted = NamedOfKind;
/** A stage, or any other items that a person keeps together under a name. */
export interface Group extends Named, Row<typeof GROUP_FIELDS>, Stated<typeof ORIGIN_FIELDS> {}
/** A named set of loads and source speeds: lifting, holding, lowering. What it does not name is as stated. */
export interface LoadCase extends Named, Stated<typeof CASE_FIELDS> {}
/** A saved run: how it is computed. What comes of it is computed again wherever it is shown. */
export interface KeptRun extends Named, Stated<typeof KEPT_RUN_FIELDS> {}
/** A saved load sheet: of which member, and when. Its figures are computed again wherever it is shown. */
export interface KeptSheet extends Named, Needed<typeof KEPT_SHEET_FIELDS, 'member'> {}
/** A saved view of the layout: from where it is seen, what is up, what is in the middle, mm, and the picture's height, mm. */
export interface SavedView extends Named, Row<typeof VIEW_FIELDS> {}
/** A drawing that is kept: what it shows, and how. It is drawn again wherever it is shown. */
export interface KeptDrawing extends Named, Stated<typeof DRAWING_FIELDS> {}
/** The design with some of its fields stated otherwise and some items left out. */
export interface Variant extends Named, Stated<typeof VARIANT_FIELDS> {}
/** A number of the design with a symbol: stated, or by a formula of others. */
export interface NamedQuantity extends Named, Needed<typeof QUANTITY_FIELDS, 'symbol' | 'value'> {}
/** A caution that is accepted for a reason, until what it depends on changes. */
export interface AcceptedFinding extends OfNoKind, Needed<typeof ACCEPTED_FIELDS, 'finding' | 'reason' | 'state'> {}
export type Settings = Stated<typeof SETTINGS_FIELDS>;

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
  drawings?: KeptDrawing[];
  variants?: Variant[];
  accepted?: AcceptedFinding[];
  quantities?: NamedQuantity[];
  /** The unit and expression that a person typed for a value: "id.field" → "3/4 in". One that names a quantity is a formula. */
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
