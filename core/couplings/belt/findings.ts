import { eitherOf, listed } from '../../units/index';
import { type Pulley, num, pulleyRadius } from '../../elements/index';
import type { Coupling, Finding } from '../../fields/types';
import { finding } from '../../findings/index';
import { cross, norm, toLocalPoint } from '../../math/index';
import { type Placed, say } from '../common';
import type { CouplingContext } from '../protocol';
import type { Run } from './fields';
import { type BandGeometry, distanceFor } from './geometry';

/** How far a band's count may stand from a whole number. */
const WHOLE = 0.02;
/** How far a wheel may stand out of the band's plane, mm. */
const IN_LINE = 0.05;

const hasTeeth = (w: Placed<Pulley>): boolean => w.element.form === 'toothed' || w.element.form === 'sprocket';

/** The wheels that a band names, or why it cannot run over them. */
export function wheelsOf(
  c: Coupling,
  ctx: CouplingContext,
  chain: boolean,
): { wheels: Placed<Pulley>[]; findings?: undefined } | { findings: Finding[] } {
  const name = c.name ?? c.id;
  const wheels: Placed<Pulley>[] = [];
  for (const [i, id] of (c.wheels ?? []).entries()) {
    const found = ctx.element(id);
    if (found?.element.type !== 'pulley') {
      return { findings: [finding('coupling-needs-element', [c.id], { name, word: chain ? 'sprockets' : 'pulleys', missing: i + 1 })] };
    }
    wheels.push(found);
  }
  const ids = [c.id, ...wheels.map((w) => w.element.id)];
  if (wheels.length < 2) return { findings: [finding('belt-one-wheel', ids, { name })] };
  if (new Set(wheels.map((w) => w.member)).size < wheels.length) return { findings: [finding('coupling-same-member', ids, { name })] };
  // A wheel without a size has a finding of its own.
  if (wheels.some((w) => !(pulleyRadius(w.element) > 0))) return { findings: [] };
  if (wheels.some((w) => norm(cross(w.frame.z, wheels[0].frame.z)) > 1e-6)) return { findings: [finding('axes-not-parallel', ids, { name })] };
  return { wheels };
}

/** Whether a band is held by teeth: a chain, or a belt with a toothed wheel. */
export const isToothed = (wheels: readonly Placed<Pulley>[], chain: boolean): boolean => chain || wheels.some((w) => w.element.form === 'toothed');

/** Sprockets below this run roughly; toothed pulleys below it bend the belt sharply. Common practice, no source. */
const FEW_TEETH = { chain: 17, belt: 10 };

/** Whether a toothed band has a whole number of teeth or links, and how many teeth its wheels have for it. */
export function countFindings(c: Run, wheels: readonly Placed<Pulley>[], g: BandGeometry, chain: boolean): Finding[] {
  if (!isToothed(wheels, chain)) return [];
  const name = c.name ?? c.id;
  const ids = [c.id, ...wheels.map((w) => w.element.id)];
  const out: Finding[] = [];
  const pitch = num(wheels.find(hasTeeth)?.element.pitch);
  const count = g.path.length / pitch;
  const whole = Math.round(count);
  const words = chain ? 'links' : 'teeth';
  const at = (n: number): string => {
    const d = wheels.length === 2 ? distanceFor(g, n * pitch) : undefined;
    return d === undefined ? `${n} ${words}` : `${n} ${words} at ${say(d)} mm between the axes`;
  };
  if (Math.abs(count - whole) > WHOLE) {
    // A chain's links come in pairs.
    const step = chain ? 2 : 1;
    const below = step * Math.floor(count / step);
    out.push(finding('belt-not-whole', ids, { name, count: say(count, 2), words, below: at(below), above: at(below + step) }));
  } else if (chain && whole % 2) out.push(finding('chain-odd', ids, { name, count: whole, below: at(whole - 1), above: at(whole + 1) }));
  for (const w of wheels) {
    const z = num(w.element.teeth);
    const few = chain ? FEW_TEETH.chain : FEW_TEETH.belt;
    if (!hasTeeth(w) || z >= few) continue;
    // The speed of a chain swings between r and r·cos(π/z) of the sprocket (Shigley, eq. 17-31).
    const swing = say(100 * (1 - Math.cos(Math.PI / z)), 2);
    out.push(
      chain
        ? finding('few-teeth/chain', [c.id, w.element.id], { element: w.element.name, teeth: z, few, swing })
        : finding('few-teeth/belt', [c.id, w.element.id], { element: w.element.name, teeth: z, few }),
    );
  }
  return out;
}

/** What of the wheels does not go together, and which stand out of line. */
export function wheelFindings(c: Run, wheels: readonly Placed<Pulley>[], chain: boolean): Finding[] {
  const name = c.name ?? c.id;
  const word = chain ? 'chain' : 'belt';
  const ids = [c.id, ...wheels.map((w) => w.element.id)];
  const out: Finding[] = [];
  const forms = new Set(wheels.map((w) => String(w.element.form ?? 'flat')));
  const wanted = chain ? ['sprocket'] : ['flat', 'v', 'toothed'];
  for (const value of forms) {
    if (!wanted.includes(value)) out.push(finding('belt-form', ids, { name, form: value, word, wanted: eitherOf(wanted) }));
  }
  const outside = new Set(c.outside ?? []);
  if (
    isToothed(wheels, chain) &&
    [...forms].some((k) => k !== 'toothed' && k !== 'sprocket') &&
    wheels.some((w) => w.element.form !== 'toothed' && !outside.has(w.element.id))
  ) {
    out.push(finding('belt-form/toothed', ids, { name }));
  }
  const pitches = new Set(wheels.filter(hasTeeth).map((w) => `${num(w.element.pitch)} mm`));
  if (pitches.size > 1) out.push(finding('pitch-differs', ids, { name, pitches: listed([...pitches]) }));
  for (const w of wheels) {
    const off = toLocalPoint(wheels[0].frame, w.frame.o)[2];
    if (Math.abs(off) > IN_LINE) {
      out.push(finding('belt-out-of-line', [c.id, w.element.id], { name, element: w.element.name, off: say(Math.abs(off)), word }));
    }
  }
  return out;
}
