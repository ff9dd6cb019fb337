import { finding } from '../findings/index';
import type { Coupling, Design, Element, Finding, Id } from '../fields/types';
import { type Gear, num } from '../elements/index';
import type { Compiled } from './compiled';
import { Standing } from './standing';

/** A phase that was set: which element, by how much, in deg or mm. */
export interface PhaseStep {
  element: Id;
  coupling: Id;
  add: number;
  unit: 'deg' | 'mm';
}

/** A part of a pitch that teeth may be off before it is called a clash. */
const TOLERANCE = 1e-5;

/** Meshes whose teeth do not stand in spaces. */
export function phaseFindings(compiled: Compiled): Finding[] {
  const out: Finding[] = [];
  for (const { coupling, model } of compiled.couplings) {
    const p = model.phase;
    if (!p || !Number.isFinite(p.add) || Math.abs(p.add) <= TOLERANCE * p.period) continue;
    const e = compiled.elements.get(p.element)!;
    out.push(
      finding('phase-off', [coupling.id, p.element], {
        name: coupling.name ?? coupling.id,
        word: p.unit === 'deg' ? 'turn' : 'shift',
        element: e.name,
        add: Number(p.add.toFixed(4)),
        word2: p.unit === 'deg' ? '°' : ' mm',
      }),
    );
  }
  return out;
}

/**
 * Puts teeth into spaces: walks the meshes from the elements driven first and sets
 * the phase of each element reached. Where a loop of meshes leaves no choice and
 * does not fit, a finding names it. Gives a new design; the old one is untouched.
 */
export function setPhases(design: Design, only?: ReadonlySet<Id>): { design: Design; steps: PhaseStep[]; findings: Finding[] } {
  const steps: PhaseStep[] = [];
  const findings: Finding[] = [];
  const standing = new Standing(design);
  const phased = new Map<Id, Element>();
  const fixed = new Set<Id>();
  const meshes = design.couplings.filter((c) => (!only || only.has(c.id)) && standing.model(c)?.phase);
  for (const c of walkOf(meshes, fixed)) {
    const p = standing.model(c)?.phase;
    const a = c.a as Id,
      b = c.b as Id;
    if (!p || !Number.isFinite(p.add)) continue;
    const needs = Math.abs(p.add) > TOLERANCE * p.period * 1e-3;
    if (needs && fixed.has(b) && fixed.has(a)) {
      if (Math.abs(p.add) > TOLERANCE * p.period) {
        findings.push(
          finding('phase-loop', [c.id, a, b], { name: c.name ?? c.id, add: Number(p.add.toFixed(4)), word: p.unit === 'deg' ? '°' : ' mm' }),
        );
      }
    } else if (needs) {
      let element = b,
        add = p.add,
        unit = p.unit;
      if (fixed.has(b)) {
        // Turn the other wheel instead, by the same part of a pitch.
        element = a;
        const wheel: Gear | undefined = standing.elements.get(a);
        add = ((p.add / p.period) * 360) / num(wheel?.teeth, 1);
        unit = 'deg';
        const before = standing.elements.get(a)!;
        standing.restate(withPhase(before, add));
        const off = standing.model(c)?.phase?.add ?? 0;
        standing.restate(before);
        if (Math.abs(off) > TOLERANCE * p.period) add = -add;
      }
      const after = withPhase(standing.elements.get(element)!, add);
      standing.restate(after);
      phased.set(element, after);
      steps.push({ element, coupling: c.id, add, unit });
    }
    fixed.add(a);
    fixed.add(b);
  }
  const stated = (e: Element): Element => {
    const to: Gear | undefined = phased.get(e.id);
    return to ? ({ ...e, phase: to.phase } as Element) : e;
  };
  return { design: phased.size ? { ...design, elements: design.elements.map(stated) } : design, steps, findings };
}

/**
 * Meshes in the order in which they are put into phase, each once: those that go on from
 * an element that is fixed to one that is not, then what closes a loop, then what comes
 * to a fixed one from behind; where nothing hangs on anything, the first that is left.
 */
function* walkOf(meshes: readonly Coupling[], fixed: ReadonlySet<Id>): Generator<Coupling> {
  const by = new Map<Id, Coupling[]>();
  const place = new Map(meshes.map((c, k) => [c, k]));
  for (const c of meshes) for (const e of [c.a, c.b]) by.set(e as Id, [...(by.get(e as Id) ?? []), c]);
  const open = new Set(meshes);
  // Those that touch a fixed element.
  const near = new Set<Coupling>();
  while (open.size) {
    let best: Coupling | undefined;
    const rank = (c: Coupling): number => (fixed.has(c.a as Id) ? (fixed.has(c.b as Id) ? 1 : 0) : 2) * meshes.length + place.get(c)!;
    for (const c of near) if (!best || rank(c) < rank(best)) best = c;
    best ??= open.values().next().value!;
    open.delete(best);
    near.delete(best);
    yield best;
    for (const e of [best.a, best.b]) if (fixed.has(e as Id)) for (const c of by.get(e as Id)!) if (open.has(c)) near.add(c);
  }
}

function withPhase(e: Element, add: number): Element {
  const wheel: Gear = { ...(e as Gear) };
  return { ...wheel, phase: Number((num(wheel.phase) + add).toPrecision(15)) } as Element;
}
