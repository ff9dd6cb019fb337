import { readFileSync, readdirSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import { type Design, DESIGN_VERSION, emptyDesign, migrate, readDesign } from './index';

const demos = new URL('../../demo/', import.meta.url);
const files = readdirSync(demos).filter((f) => f.endsWith('.json'));
const read = (f: string): Design => JSON.parse(readFileSync(new URL(f, demos), 'utf8')) as Design;

describe('a document of version 1', () => {
  it.each(files)('%s: opens as the same design, with the same figures', (f) => {
    const now = read(f);
    const then = { ...structuredClone(now), version: 1 };
    const opened = readDesign(then);
    expect(opened.problems).toBeUndefined();
    expect(opened.design).toEqual({ ...now, version: DESIGN_VERSION });
    expect(then.version).toBe(1);
    const a = analyse(opened.design!),
      b = analyse(now);
    expect(a.ratios).toEqual(b.ratios);
    expect(a.ledger.lines).toEqual(b.ledger.lines);
    expect(a.findings).toEqual(b.findings);
  });

  it('tells a force that turns with its member along the member’s axes: it acts as it did', () => {
    const old = {
      ...emptyDesign('Old'),
      version: 1,
      members: [{ id: 'm', name: 'M', kind: 'body', axis: [1, 0, 0], up: [0, 0, 1] }],
      loads: [
        { id: 'f', name: 'F', type: 'force', member: 'm', force: [1, 2, 3], follows: true },
        { id: 'g', name: 'G', type: 'force', member: 'm', force: [1, 2, 3] },
      ],
    };
    // z along x, x along z, so y = z × x along −y: the world's (1, 2, 3) is (3, −2, 1).
    expect(migrate(old).loads).toMatchObject([{ force: [3, -2, 1] }, { force: [1, 2, 3] }]);
    expect(migrate({ ...old, members: 'none', loads: [null, 3] })).toMatchObject({ version: DESIGN_VERSION, loads: [null, 3] });
  });
  it('is not made of what is no design, nor of a version that never was', () => {
    expect(migrate({ version: 1 })).toEqual({ version: 1 });
    const odd = { format: 'unirota-design', version: 0 };
    expect(migrate(odd)).toBe(odd);
    expect(readDesign({ ...read(files[0]), version: 0 }).problems?.[0].path).toBe('version');
  });
});
