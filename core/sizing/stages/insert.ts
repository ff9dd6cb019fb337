import type { WantedOutput } from '../../document/kinds';
import { type Design, FRAME, type Id, type Joint } from '../../fields/types';
import { withoutGaps } from '../../edits/items';
import { isInch } from '../../edits/inch';
import { trainEnds } from '../needed';
import { Bodies, compile, poseOf, setPhases } from '../../kinematics/index';
import { StageBuilder } from './builder';
import { stageKind, stageValues, canBegin } from './kinds';
import type { StageRequest, StageMade } from './protocol';

/** An input shaft on the frame with a source on it: the beginning of an empty design. */
export function withInputShaft(design: Design, source?: { type: string; name: string; fields?: Record<string, unknown> }): StageMade {
  const b = new StageBuilder(design, FRAME, {});
  const m = b.member('Input shaft', 'shaft', [0, 0, 0], [0, 1, 0], [1, 0, 0]);
  const j = b.joint('revolute', FRAME, m);
  let d = b.design;
  if (source) {
    const id = b.id('source');
    d = {
      ...d,
      sources: [...d.sources, withoutGaps({ id, name: source.name, type: source.type, joint: j, speed: 60, ...source.fields })],
    };
  }
  return { design: d, made: b.made, output: m };
}

/** Whether nothing that a stage brings in stands in what is there. */
function clear(b: StageBuilder, vacate?: ReadonlySet<Id>): boolean {
  const made = new Set(b.made);
  const compiled = compile(b.design);
  const found = new Bodies(compiled).at(poseOf(compiled), made);
  return found.every(({ elements }) => elements.some((e) => vacate?.has(e)));
}
const SLIDING = new Set(['linear-speed', 'travel', 'force']),
  TURNING = new Set(['speed', 'angle', 'torque']);

/**
 * Wanted outputs that wait for a stage take its output's joint where
 * it fits; so do those of the member that the train ended at before.
 */
function takeWanted(d: Design, joint: Joint, end: Id | undefined): { design: Design; moved: string[] } {
  const fits = joint.type === 'prismatic' ? SLIDING : TURNING;
  const old = new Set(end === undefined ? [] : d.joints.filter((j) => j.child === end).map((j) => j.id));
  const moved: string[] = [];
  const wanted = d.wanted.map((w: WantedOutput) => {
    if (!fits.has(w.type) || w.source !== undefined || (w.joint !== undefined && !old.has(w.joint))) return w;
    if (w.joint !== undefined) moved.push(w.name);
    return { ...w, joint: joint.id };
  });
  return { design: { ...d, wanted }, moved };
}

/** By how much farther along its axis a stage is tried where it would stand in what is there, mm, and how often. */
const FARTHER = 30;
const MOST_TRIES = 12;

/**
 * Puts a stage into the train: members, joints, elements, placements and couplings, meshed and with tooth in space. Wanted
 * outputs that name no joint yet take the stage's output where it fits; those of the member at which the train ended move
 * along with its end. Throws nothing; a stage that cannot begin at the member is not made.
 */
export function insertStage(design: Design, request: StageRequest): StageMade | undefined {
  const kind = stageKind(request.kind);
  if (!kind) return undefined;
  let start = design;
  let from = request.from;
  let made: Id[] = [];
  if (from === undefined) {
    const input = withInputShaft(design);
    start = input.design;
    from = input.output;
    made = input.made;
  }
  if (!canBegin(start, kind.kind, from)) return undefined;
  const begun = start,
    member = from;
  const build = (farther: number): StageBuilder => {
    const b = new StageBuilder(begun, member, stageValues(kind, request.values, isInch(begun)), request.vacate, farther, request.typed);
    kind.build(b);
    return b;
  };
  const near = build(0);
  let b = near;
  for (let k = 1; k <= MOST_TRIES && !clear(b, request.vacate); k++) b = build(k * FARTHER);
  if (b !== near && !clear(b, request.vacate)) b = near;
  const meshes = new Set(b.made.filter((id) => b.design.couplings.some((c) => c.id === id)));
  let out = setPhases(b.design, meshes).design;
  const joint = out.joints.find((j) => j.child === b.output);
  let moved: string[] = [];
  if (joint && b.output !== from) ({ design: out, moved } = takeWanted(out, joint, trainEnds(begun, member) ? member : undefined));
  const id = b.id('group');
  const items = b.made.filter((x) => x !== id);
  // The stage is called as its coupling, where that is called after the stage.
  const { name: called } = out.couplings.find((c) => c.id === b.coupling) ?? {};
  const name = called?.startsWith(kind.label) && !out.groups?.some((g) => g.name === called) ? called : b.name(kind.label);
  out = { ...out, groups: [...(out.groups ?? []), { id, name, items }] };
  return { design: out, made: [...made, ...items], output: b.output, coupling: b.coupling, moved };
}
