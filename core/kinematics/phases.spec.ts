import { describe, expect, it } from 'vitest';
import { row } from '../testing/designs';
import { compile, phaseFindings, setPhases } from './index';

describe('phases of meshes', () => {
  const off = () => {
    const { design } = row([
      [18, 54],
      [20, 41],
      [17, 30],
    ]);
    return { ...design, elements: design.elements.map((e, k) => ({ ...e, phase: 1.3 * k })) };
  };
  const out = (d: ReturnType<typeof off>): string[] => phaseFindings(compile(d)).map((f) => f.ids[0]);

  it('are set for all, so that every tooth stands in a space', () => {
    const d = off();
    expect(out(d)).toEqual(d.couplings.map((c) => c.id));
    const { design, steps, findings } = setPhases(d);
    expect(findings).toEqual([]);
    expect(steps.map((s) => s.coupling)).toEqual(d.couplings.map((c) => c.id));
    expect(out(design as typeof d)).toEqual([]);
  });
  it('are set for those that are asked for alone; the others stay as they are', () => {
    const d = off();
    const [, second] = d.couplings;
    const { design, steps } = setPhases(d, new Set([second.id]));
    expect(steps.map((s) => s.coupling)).toEqual([second.id]);
    const changed = design.elements.filter((e, k) => e !== d.elements[k]).map((e) => e.id);
    expect(changed).toEqual([steps[0].element]);
    expect(out(design as typeof d)).toEqual(d.couplings.map((c) => c.id).filter((id) => id !== second.id));
  });
});
