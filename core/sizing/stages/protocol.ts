import type { Values } from './values';
import type { Field } from '../../fields/fields';
import type { Design, Id } from '../../fields/types';
import type { StageBuilder } from './builder';

/** What a person asks for when putting a stage into the train. */
export interface StageRequest {
  kind: string;
  /** The member at which the stage begins; a new input shaft where none is named. */
  from?: Id;
  /** Sizes, by the keys of the kind's fields; what is left open has the field's initial value. */
  values?: Values;
  /** What was typed for sizes, where it says more than the number: kept with the elements that take them. */
  typed?: Readonly<Record<string, string>>;
  /** Elements that will have gone: they take no room. */
  vacate?: ReadonlySet<Id>;
}

/** A stage as made: a new design, what is new in it, and the member that it drives. */
export interface StageMade {
  design: Design;
  made: Id[];
  output: Id;
  coupling?: Id;
  /** Names of wanted outputs that went along from where the train ended. */
  moved?: readonly string[];
}

/** A kind of stage: what it is, which sizes it asks for, and how it is built. */
export interface StageKind {
  readonly kind: string;
  readonly label: string;
  /** What it turns into what, in a few words. */
  readonly does: string;
  /** Ratio asked for: turns of the driving for one of the driven member; or mm per turn. */
  readonly ratio?: 'turns' | 'travel';
  readonly fields: readonly Field[];
  /** At which members it can begin: those that turn about their own axis, or any that move. */
  readonly begins?: 'at any that moves';
  /** Puts its members, elements, joints and couplings into the train. */
  build(b: StageBuilder): void;
  /**
   * What has to follow where one of the sizes was chosen, so that they go
   * together; `stated`: the sizes that were chosen before, the latest first.
   */
  follow?(values: Values, chosen: string, stated: readonly string[]): Values;
  /** What is wrong with the sizes together, beyond what each field says of itself. */
  problem?(values: Values): StageProblem | undefined;
  /** Sizes that come nearest to a wanted ratio, within the fields' bounds. */
  forRatio?(ratio: number, values: Values): Values;
  /** The ratio that sizes give, without its sense: turns of the driving for one of the driven member, or mm per turn. */
  gives?(values: Values): number;
  /**
   * Up to which ratio, or its inverse, one stage of this kind is usual
   * (common practice, no source); more is better split over several.
   */
  readonly usual?: number;
  /** Within what the ratio can be had, in words. */
  readonly bounds?: string;
}

/** What is wrong with the sizes asked for, with the field, and sizes near by that would do. */
export interface StageProblem {
  field: string;
  message: string;
  choices?: Values[];
}
