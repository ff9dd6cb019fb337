import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { curveOf, fewer, readLog, thinnedTo } from './index';

describe('logs of instruments', () => {
  it('are read with heading, units, decimal commas and gaps', () => {
    const r = readLog('Gauge 7, Alder Cut\r\nZeit [ms];Travel (mm);Note\r\n0;1,5;\r\n20;;no signal\r\n40;2,25;\r\n60;−3;\r\n');
    expect(r.problem).toBeUndefined();
    expect(r.columns!.map((c) => [c.name, c.unit])).toEqual([
      ['Zeit', 'ms'],
      ['Travel', 'mm'],
    ]);
    const [t, v] = r.columns!;
    const c = curveOf(t, v, 1e-3);
    expect(c).toEqual({ time: Float64Array.of(0, 0.04, 0.06), value: Float64Array.of(1.5, 2.25, -3), gaps: 1 });
  });
  it('begin at nothing, whatever the instrument counts from, and need rising times', () => {
    const { columns } = readLog('1000,4\n1001,5\n1001,5\n1003,6\n');
    expect(columns!.map((c) => c.name)).toEqual(['Column 1', 'Column 2']);
    expect(curveOf(columns![0], columns![1])).toMatchObject({ time: Float64Array.of(0, 1, 3) });
    const back = readLog('0,4\n2,5\n1,6\n').columns!;
    expect(curveOf(back[0], back[1])).toEqual({ problem: expect.stringMatching(/do not rise/) });
  });
  it.each([
    ['', /two numbers/],
    ['Name,Place\nLock,North\n', /two numbers/],
    ['t;x\n0;1,5\n1;2.5\n', /decimal comma/],
  ])('says what is wrong with %j', (text, problem) => expect(readLog(text).problem).toMatch(problem));
  it('of two hundred thousand lines are read, and led by as many points as can be edited', () => {
    const lines = Array.from({ length: 200_000 }, (_, i) => `${i},${(100 * Math.sin(i / 8000)).toFixed(4)}`);
    const [t, v] = readLog(`t (ms),x (mm)\n${lines.slice(1).join('\n')}`).columns!;
    const c = curveOf(t, v, 1e-3);
    if ('problem' in c) throw new Error(c.problem);
    const { at, off } = thinnedTo(c, 400);
    expect(at.length).toBeLessThanOrEqual(400);
    // A thousandth of what it spans.
    expect(off).toBeLessThan(0.2);
    expect(thinnedTo({ time: Float64Array.of(0, 1, 2), value: Float64Array.of(0, 5, 10) }, 400)).toEqual({ at: [0, 2], off: 0 });
  });
  it('are thinned to no more than a stated deviation, whatever they hold', () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: -1e3, max: 1e3, noNaN: true }), { minLength: 2, maxLength: 60 }),
        fc.double({ min: 0, max: 50, noNaN: true }),
        (values, off) => {
          const time = Float64Array.from(values, (_, i) => i),
            value = Float64Array.from(values);
          const kept = fewer({ time, value }, off);
          expect(kept[0]).toBe(0);
          expect(kept.at(-1)).toBe(values.length - 1);
          for (let k = 1; k < kept.length; k++) {
            const [a, b] = [kept[k - 1], kept[k]];
            for (let i = a; i <= b; i++) {
              expect(Math.abs(value[i] - (value[a] + ((value[b] - value[a]) * (i - a)) / (b - a)))).toBeLessThanOrEqual(off + 1e-9);
            }
          }
        },
      ),
    );
  });
});
