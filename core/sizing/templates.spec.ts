import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import { readDesign } from '../document/index';
import { TEMPLATES, fromTemplate } from './index';

describe('templates', () => {
  it.each(TEMPLATES.map((t) => [t.name, t] as const))('%s: every stage is in, driven, with nothing to complain about', (_, t) => {
    const d = fromTemplate(t);
    expect(readDesign(d).problems).toBeUndefined();
    const a = analyse(d);
    expect(a.findings.filter((f) => f.severity !== 'note').map((f) => f.message)).toEqual([]);
    expect(d.groups).toHaveLength(t.stages.length);
    expect(a.undriven).toEqual([]);
    expect(a.ratios.length).toBeGreaterThanOrEqual(t.stages.length);
  });
});
