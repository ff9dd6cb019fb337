import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { emptyDesign } from '../document/index';
import { DRAWING_SIDES, type DrawingSide } from '../fields/common';
import { dot } from '../math/index';
import { circle } from '../solids/index';
import { type Placed, arranged } from './arrange';
import { type Dimension, FIGURE, placeDimensions } from './dimensions';
import { formOf } from './form';
import { hatching } from './lines';
import { type Mark, type TextMark, textWidth } from './marks';
import { boxOf, drawnOnce } from './projection';
import { viewsOf } from './views';

const view = (side: DrawingSide, along: '+y' | '-x' | '-z' = '+y') => viewsOf({ id: 'd', name: 'd', along, sides: [{ side }] })[0];

describe('views of a drawing', () => {
  it.each(DRAWING_SIDES)('seen from %s have their right, up and towards at right angles, right-handed', (side) => {
    for (const along of ['+y', '-x', '-z'] as const) {
      const { right: r, up: u, towards: t } = view(side, along);
      expect([dot(r, u), dot(u, t), dot(t, r)].map((x) => Math.abs(x) < 1e-12)).toEqual([true, true, true]);
      const cross = [r[1] * u[2] - r[2] * u[1], r[2] * u[0] - r[0] * u[2], r[0] * u[1] - r[1] * u[0]];
      cross.forEach((x, k) => expect(x).toBeCloseTo(t[k], 12));
    }
  });

  it('from the left shows at its right what is nearest to who looks from the front, and from above at its foot', () => {
    const front = view('front');
    expect(view('left').right).toEqual(front.towards);
    expect(view('above').up.map((x) => -x + 0)).toEqual(front.towards.map((x) => x + 0));
  });

  it('are each drawn once, and sections have letters without I', () => {
    const all = viewsOf({
      id: 'd',
      name: 'd',
      sides: [{ side: 'front' }, { side: 'front' }],
      sections: Array.from({ length: 8 }, (_, k) => ({ along: '-x' as const, at: k })),
    });
    expect(all.filter((v) => v.side === 'front')).toHaveLength(1);
    expect(all.flatMap((v) => v.cut?.letter ?? []).join('')).toBe('ABCDEFGH');
    // Seen along −x a plane at x = 3 is at −3.
    expect(all.find((v) => v.cut?.letter === 'D')!.cut).toMatchObject({ along: [-1, 0, 0], at: -3 });
  });
});

describe('arranged by ISO 5456-2', () => {
  const placed = (side: DrawingSide): Placed => ({ side, box: [-20, -10, 20, 10], room: { below: 0, above: 0, left: 0, right: 0 } });
  const where = (third: boolean): Record<string, [number, number]> => {
    const sides = ['front', 'left', 'right', 'above', 'below', 'rear'] as const;
    const at = arranged(sides.map(placed), third, 400, 300)!;
    return Object.fromEntries(sides.map((s, i) => [s, at[i]]));
  };

  it('what is seen from the left stands at the right and from above below in the first angle, the other way in the third', () => {
    for (const third of [false, true]) {
      const at = where(third);
      const s = third ? -1 : 1;
      expect(Math.sign(at['left'][0] - at['front'][0])).toBe(s);
      expect(Math.sign(at['right'][0] - at['front'][0])).toBe(-s);
      // Rows run downward.
      expect(Math.sign(at['above'][1] - at['front'][1])).toBe(s);
      expect(Math.sign(at['below'][1] - at['front'][1])).toBe(-s);
      expect(at['left'][1]).toBe(at['front'][1]);
      expect(at['above'][0]).toBe(at['front'][0]);
    }
  });

  it('or not at all where the area is too small', () => {
    expect(arranged([placed('front'), placed('left')], false, 90, 300)).toBeUndefined();
    expect(arranged([placed('front'), placed('left')], false, 100, 300)).toBeDefined();
  });
});

describe('lines are drawn once', () => {
  const line = (...p: [number, number, number, number]) => ({
    start: [p[0], p[1]] as const,
    pieces: [{ kind: 'line' as const, to: [p[2], p[3]] as const }],
  });

  it('where they lie on each other, and what is hidden under a visible one goes', () => {
    const p = drawnOnce({ visible: [line(0, 0, 5, 0), line(8, 0, 4, 0)], hidden: [line(-2, 0, 10, 0), line(0, 1, 1, 1)], cuts: [] });
    expect(p.visible.map((x) => [...x.start, ...x.pieces[0].to])).toEqual([[0, 0, 8, 0]]);
    expect(p.hidden.map((x) => [x.start[0], x.pieces[0].to[0]])).toEqual([
      [-2, 0],
      [8, 10],
      [0, 1],
    ]);
  });

  it('arcs too: two halves of a circle cover a hidden one', () => {
    const half = (from: number) => ({
      start: [Math.cos(from), Math.sin(from)] as const,
      pieces: [{ kind: 'arc' as const, centre: [0, 0] as const, angle: Math.PI, to: [-Math.cos(from), -Math.sin(from)] as const }],
    });
    const p = drawnOnce({ visible: [half(-2), half(Math.PI - 2)], hidden: [{ start: [1, 0], pieces: circle(1).pieces }], cuts: [] });
    expect(p.hidden).toEqual([]);
    const b = boxOf(p.visible)!;
    [-1, -1, 1, 1].forEach((x, k) => expect(b[k]).toBeCloseTo(x, 9));
  });
});

describe('hatching', () => {
  it.each([0, 1, 2, 3])('%i covers a ring evenly: its length times its spacing is the area', (hatch) => {
    const edges: number[] = [];
    for (const r of [40, 15]) {
      for (let i = 0; i < 720; i++) {
        const [a, b] = [i, i + 1].map((k) => (k * Math.PI) / 360);
        edges.push(r * Math.cos(a), r * Math.sin(a), r * Math.cos(b), r * Math.sin(b));
      }
    }
    const lines = hatching(edges, hatch);
    const length = lines.reduce((s, p) => s + Math.hypot(p.pieces[0].to[0] - p.start[0], p.pieces[0].to[1] - p.start[1]), 0);
    const spacing = 2.5 * (1 + 0.4 * (Math.floor(hatch / 2) % 3));
    expect((length * spacing) / (Math.PI * (40 ** 2 - 15 ** 2))).toBeCloseTo(1, 1);
    // At 45°, and never in the hole.
    for (const p of lines) {
      const [[x0, y0], [x1, y1]] = [p.start, p.pieces[0].to];
      expect(Math.abs(y1 - y0)).toBeCloseTo(Math.abs(x1 - x0), 6);
      expect(Math.hypot((x0 + x1) / 2, (y0 + y1) / 2)).toBeLessThan(40);
      for (const t of [0.1, 0.5, 0.9]) expect(Math.hypot(x0 + t * (x1 - x0), y0 + t * (y1 - y0))).toBeGreaterThan(14.9);
    }
  });
});

/** The box of a figure that lies along the paper or up it. */
function boxOfText(t: TextMark): readonly [number, number, number, number] {
  const w = textWidth(t.text, t.height);
  const [x, y] = t.at;
  const from = { start: 0, middle: -w / 2, end: -w }[t.anchor];
  return t.turn === 90 ? [x - t.height, y + from, x, y + from + w] : [x + from, y, x + from + w, y + t.height];
}
const apart = (a: readonly number[], b: readonly number[]): boolean =>
  a[2] <= b[0] + 1e-9 || b[2] <= a[0] + 1e-9 || a[3] <= b[1] + 1e-9 || b[3] <= a[1] + 1e-9;

describe('a table of gear data', () => {
  it('stands within the border and off the title block and the marks at the middle of the sides, however long it is', () => {
    for (const paper of ['A4', 'A3', 'A2', 'A1'] as const) {
      for (const lines of [5, 20, 30, 36]) {
        const rows = Array.from({ length: lines }, (_, k) => [`Value ${k}`, '1234.5678', '98.765']);
        const options = { scale: '1:1', kind: 'Part drawing', material: '', unit: 'mm', third: false, symbol: false };
        const title = { by: '', revision: '1', date: '2026-11-30' };
        const drawing = { id: 'd', name: 'Drawing', paper };
        const form = (table?: { heads: string[]; rows: string[][] }): Mark[] =>
          formOf(emptyDesign('Works'), drawing, title, { ...options, ...(table && { table }) }).marks;
        const plain = form();
        const figures = form({ heads: ['Wheel', 'Pinion'], rows })
          .slice(plain.length)
          .filter((m): m is TextMark => m.kind === 'text')
          .map(boxOfText);
        expect(figures).toHaveLength(3 * lines + 3);
        const [border, ...others] = plain.flatMap((m) => {
          if (m.kind !== 'stroke') return [];
          const points = [m.path.start, ...m.path.pieces.map((x) => x.to)];
          const [xs, ys] = [points.map((x) => x[0]), points.map((x) => x[1])];
          return [[Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)]];
        });
        for (const f of figures) {
          expect(
            f[0] >= border[0] && f[1] >= border[1] && f[2] <= border[2] && f[3] <= border[3],
            `${paper}, ${lines} lines: ${f.join()} in ${border.join()}`,
          ).toBe(true);
          for (const o of others) expect(apart(f, o), `${paper}, ${lines} lines: ${f.join()} and ${o.join()}`).toBe(true);
        }
      }
    }
  });
});

describe('dimensions round a view', () => {
  const box = [0, 0, 120, 80] as const;
  const one = fc
    .record({ up: fc.boolean(), from: fc.integer({ min: 0, max: 50 }), size: fc.integer({ min: 1, max: 30 }), low: fc.integer({ min: 0, max: 60 }) })
    .map(({ up, from, size, low }): Dimension => ({
      at: { direction: up ? [0, 1] : [1, 0], from, to: from + size, low: up ? -low - 20 : low, high: up ? -low : low + 20 },
      written: `Ø${size}`,
    }));

  it('no figure touches another, and all stand outside it within the room that is asked for', () => {
    fc.assert(
      fc.property(fc.array(one, { minLength: 1, maxLength: 14 }), (list) => {
        const { marks, room } = placeDimensions(list, box);
        const figures = marks.filter((m): m is TextMark => m.kind === 'text').map(boxOfText);
        expect(figures).toHaveLength(list.length);
        figures.forEach((a, i) => figures.slice(i + 1).forEach((b) => expect(apart(a, b)).toBe(true)));
        // Nor does a line: its own stands below it.
        const lines = marks.flatMap((m) => {
          const [p] = m.kind === 'stroke' ? m.path.pieces : [];
          return m.kind === 'stroke' ? [[...m.path.start, ...p.to]] : [];
        });
        for (const f of figures) {
          for (const [x0, y0, x1, y1] of lines) {
            expect(apart(f, [Math.min(x0, x1), Math.min(y0, y1), Math.max(x0, x1), Math.max(y0, y1)])).toBe(true);
          }
          expect(apart(f, box)).toBe(true);
          expect(f[0]).toBeGreaterThanOrEqual(box[0] - room.left - 1e-9);
          expect(f[1]).toBeGreaterThanOrEqual(box[1] - room.below - 1e-9);
          expect(f[2]).toBeLessThanOrEqual(box[2] + room.right + 1e-9);
          expect(f[3]).toBeLessThanOrEqual(box[3] + room.above + FIGURE + 1e-9);
        }
      }),
      { seed: 24, numRuns: 300 },
    );
  });

  it('arrows stand between the ends where there is room, else they point inward from outside', () => {
    const tips = (size: number): Extract<Mark, { kind: 'arrow' }>[] =>
      placeDimensions([{ at: { direction: [1, 0], from: 0, to: size, low: 0, high: 1 }, written: '30' }], box).marks.filter(
        (m) => m.kind === 'arrow',
      );
    expect(tips(30).map((a) => a.along[0])).toEqual([-1, 1]);
    expect(tips(4).map((a) => a.along[0])).toEqual([1, -1]);
  });
});
