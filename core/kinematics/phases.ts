import { finding } from '../findings/index';
import { Design, Finding, Id } from '../fields/types';
import { type Gear, num } from '../elements/index';
import { compile } from './compile';
import type { Compiled } from './compiled';

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
 * Puts teeth into spaces: walks the meshes from the elements driven first and sets the phase of each element reached. Where a loop of
 * meshes leaves no choice and does not fit, a finding names it. Gives a new design; the old one is untouched.
 */
export function setPhases(design: Design, only?: ReadonlySet<Id>): { design: Design; steps: PhaseStep[]; findings: Finding[] } {
  const steps: PhaseStep[] = [];
  const findings: Finding[] = [];
  let current = design;
  const fixed = new Set<Id>();
  let compiled = compile(current);
  const open = compiled.couplings.filter((c) => c.model.phase && (!only || only.has(c.coupling.id))).map((c) => c.coupling.id);
  // Each pass sets what hangs on the elements fixed so far; every mesh is visited at most once.
  while (open.length) {
    let at = open.findIndex((id) => {
      const c = design.couplings.find((x) => x.id === id)!;
      return fixed.has(c.a as Id) && !fixed.has(c.b as Id);
    });
    if (at < 0) at = open.findIndex((id) => fixed.has(design.couplings.find((x) => x.id === id)!.a as Id));
    if (at < 0) at = open.findIndex((id) => fixed.has(design.couplings.find((x) => x.id === id)!.b as Id));
    if (at < 0) at = 0;
    const [id] = open.splice(at, 1);
    const c = compiled.couplings.find((x) => x.coupling.id === id);
    const p = c?.model.phase;
    if (!c || !p || !Number.isFinite(p.add)) continue;
    const a = c.coupling.a as Id,
      b = c.coupling.b as Id;
    const needs = Math.abs(p.add) > TOLERANCE * p.period * 1e-3;
    if (needs && fixed.has(b) && fixed.has(a)) {
      if (Math.abs(p.add) > TOLERANCE * p.period) {
        findings.push(
          finding('phase-loop', [id, a, b], { name: c.coupling.name ?? id, add: Number(p.add.toFixed(4)), word: p.unit === 'deg' ? '°' : ' mm' }),
        );
      }
    } else if (needs) {
      let element = b,
        add = p.add,
        unit = p.unit;
      if (fixed.has(b)) {
        // Turn the other wheel instead, by the same part of a pitch.
        element = a;
        const wheel: Gear | undefined = compiled.elements.get(a);
        const teeth = num(wheel?.teeth, 1);
        add = ((p.add / p.period) * 360) / teeth;
        unit = 'deg';
        const probe = withPhase(current, element, add);
        const off = compile(probe).couplings.find((x) => x.coupling.id === id)?.model.phase?.add ?? 0;
        if (Math.abs(off) > TOLERANCE * p.period) add = -add;
      }
      current = withPhase(current, element, add);
      steps.push({ element, coupling: id, add, unit });
      compiled = compile(current);
    }
    fixed.add(a);
    fixed.add(b);
  }
  return { design: current, steps, findings };
}

function withPhase(design: Design, element: Id, add: number): Design {
  return {
    ...design,
    elements: design.elements.map((e: Gear) => (e.id === element ? { ...e, phase: Number((num(e.phase) + add).toPrecision(15)) } : e)),
  };
}
