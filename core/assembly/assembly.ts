import { type ElementKind, type Thread, elementKind, isShape, shapeKey } from '../elements/index';
import { NO_SHAPES, type ShapeData, type Shapes } from '../shapes/index';
import { COLOUR_VALUES, MEMBER_COLOURS, STILL_COLOUR } from '../fields/common';
import { type Element, FRAME, type Id } from '../fields/types';
import { type Frame, WORLD, within } from '../math/index';
import { type Compiled, type Pose, movedFrame } from '../kinematics/index';
import type { Solid } from '../solids/index';

/** One element's body where it stands. */
export interface Body {
  element: Id;
  name: string;
  /** Kind of element; bodies that are the same shape have the same key. */
  type: string;
  shape: string;
  /** How it is made, in its own frame, mm. */
  solids: readonly Solid[];
  /** Its own frame in the world, mm. */
  place: Frame;
  colour: string;
  /** What came in from a file, in place of solids. */
  content?: ShapeData;
  /** What its solid does not show. */
  remark?: string;
}

/** A member with the bodies that are fastened to it. */
export interface AssemblyMember {
  member: Id;
  name: string;
  bodies: Body[];
}

/** The whole design, or some members of it, as bodies in place: what is written into files. */
export interface Assembly {
  name: string;
  members: AssemblyMember[];
}

const figure = (x: number): string => String(Number(x.toFixed(4)));

/** A thread in words: its body is a plain cylinder. */
function threadText({ outside, lead, starts }: Thread, modelled: boolean): string {
  const many = starts > 1 ? `, ${starts} starts` : '';
  return `thread ${figure(2 * outside)} × ${figure(Math.abs(lead) / starts)}${many}, ${lead < 0 ? 'left' : 'right'} hand${modelled ? '' : ', plain cylinder'}`;
}

/** Turns of a thread that are modelled: more take a file beyond what can be worked with. */
const MOST_TURNS = 60;

/** An element's body with its thread, where it has one of no more turns than that. */
function modelledThread(kind: ElementKind, e: Element): readonly Solid[] | undefined {
  const t = kind.thread?.(e);
  return t && Math.abs((t.to - t.from) / t.lead) <= MOST_TURNS ? kind.threaded?.(e) : undefined;
}

/**
 * The bodies of a design at a pose: all members, or those named. Members without a body are left out.
 * An element that has no shape yet has no body, and a shape whose content is not among `shapes` neither.
 */
export function assemblyOf(compiled: Compiled, pose: Pose, only?: readonly Id[], shapes: Shapes = NO_SHAPES, threads = false): Assembly {
  const { design, elementFrames } = compiled;
  const members = [{ id: FRAME as Id, name: 'Frame' }, ...design.members].filter((m) => !only || only.includes(m.id));
  const order = new Map(design.members.map((m, i) => [m.id, i]));
  return {
    name: design.name,
    members: members
      .map(({ id, name }): AssemblyMember => ({
        member: id,
        name,
        bodies: design.elements.flatMap((e): Body[] => {
          const at = elementFrames.get(e.id);
          const kind = elementKind(e.type);
          if (e.member !== id || !at || !kind) return [];
          const modelled = threads ? modelledThread(kind, e) : undefined;
          const solids = modelled ?? kind.shape(e);
          const content = isShape(e) ? shapes.get(e.content ?? '') : undefined;
          if (!solids.length && !content) return [];
          return [
            {
              element: e.id,
              name: e.name ?? kind.label,
              type: e.type,
              shape: modelled ? `${shapeKey(e)} threaded` : shapeKey(e),
              solids,
              ...(content && { content }),
              ...(kind.thread && { remark: threadText(kind.thread(e), modelled !== undefined) }),
              place: movedFrame(pose, id, at),
              colour: e.colour ? COLOUR_VALUES[e.colour] : id === FRAME ? STILL_COLOUR : MEMBER_COLOURS[(order.get(id) ?? 0) % MEMBER_COLOURS.length],
            },
          ];
        }),
      }))
      .filter((m) => m.bodies.length),
  };
}

/** A solid of a body in the world. */
export const inWorld = (b: Body, s: Solid): Solid => ({ ...s, place: within(b.place, s.place ?? WORLD) });
