import { describe, expect, it } from 'vitest';
import { toTex, withNumbers } from './formula-text';

describe('formulas', () => {
  it('are set with subscripts, Greek letters and functions', () => {
    expect(toTex('jbn = jwt·cos αwt·cos βb')).toBe(
      'j_{\\mathrm{bn}} = j_{\\mathrm{wt}}\\cdot \\cos  \\alpha_{\\mathrm{wt}}\\cdot \\cos  \\beta_{\\mathrm{b}}',
    );
    expect(toTex('da = d + 2·m·(haP* + x)')).toContain('h_{\\mathrm{aP}}^{\\ast }');
    expect(toTex('360° / z')).toBe('360^{\\circ} / z');
    expect(toTex('volume of its elements')).toContain('\\text{ volume }');
  });
  it('take numbers where every symbol has one', () => {
    const values: Record<string, string> = { z: '18', m: '6', β: '0' };
    const value = (s: string): string | undefined => values[s];
    expect(withNumbers('d = z·m', value)).toBe(' 18\\cdot 6');
    expect(withNumbers('p = π·m', value)).toBe(' \\pi\\cdot 6');
    expect(withNumbers('d = z·q', value)).toBeUndefined();
    expect(withNumbers('W = path of contact', value)).toBeUndefined();
    expect(withNumbers('360°', value)).toBeUndefined();
  });
});
