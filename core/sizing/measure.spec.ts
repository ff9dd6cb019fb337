import { describe, expect, it } from 'vitest';
import { type Design, emptyDesign } from '../document/index';
import { addShapes } from '../edits/index';
import { WORLD, frameOf } from '../math/index';
import { type Outline, circle, meshOf, rectangle } from '../solids/index';
import { welded } from '../shapes/index';
import { shapeFrom } from '../testing/shapes';
import { type Feature, featuresOf, measuredAt, measuredBetween } from './index';

const withShape = (outline: Outline, holes: Outline[], place = WORLD): Design =>
  addShapes(emptyDesign('M'), [
    {
      content: 'd'.repeat(64),
      data: shapeFrom(welded(meshOf({ kind: 'prism', outline, holes, from: 0, to: 10 }))),
      place,
      onto: { member: 'frame' },
    },
  ]).design;
const featuresIn = (d: Design): Feature[] => d.elements.flatMap((e) => featuresOf(d, e));
const of = (list: ReturnType<typeof measuredAt>, key: string): number | undefined => list.find((m) => m.key === key)?.value;

describe('measuring', () => {
  // Turned and far off: what is measured does not depend on where the part stands.
  const place = frameOf([100, -50, 30], [1, 2, 2], [0, 1, 0]);
  const holes = [circle(6, 20, 20), circle(6, 60, 50)];
  const d = withShape(rectangle(0, 0, 80, 70), holes, place);
  const all = featuresIn(d);
  const axes = all.filter((f) => f.kind === 'axis');
  const faces = all.filter((f) => f.kind === 'face');

  it('two holes: their diameter, and the distance between their axes', () => {
    expect(of(measuredAt(axes[0], all), 'diameter')).toBeCloseTo(12, 1);
    expect(of(measuredBetween(axes[0], axes[1]), 'lines')).toBeCloseTo(50, 3);
    expect(of(measuredBetween(axes[0], axes[1]), 'angle')).toBeCloseTo(0, 6);
  });

  it('two faces: the distance between them where they are parallel, else the angle', () => {
    const [top, bottom] = [...faces].sort((a, b) => (b.size ?? 0) - (a.size ?? 0));
    expect(of(measuredBetween(top, bottom), 'faces')).toBeCloseTo(10, 6);
    const side = faces.find((f) => Math.abs((f.size ?? 0) - 800) < 1e-6)!;
    expect(of(measuredBetween(top, side), 'angle')).toBeCloseTo(90, 6);
    expect(of(measuredBetween(top, side), 'faces')).toBeUndefined();
  });

  it('an edge: its length; a face: its area', () => {
    const lengths = all.filter((f) => f.kind === 'edge').map((f) => of(measuredAt(f, all), 'length')!);
    expect(Math.max(...lengths)).toBeCloseTo(80, 6);
    expect(
      of(
        measuredAt(
          faces.find((f) => Math.abs((f.size ?? 0) - 800) < 1e-6)!,
          all,
        ),
        'area',
      ),
    ).toBeCloseTo(800, 6);
  });

  it('holes round a circle: how many, its diameter, their spacing', () => {
    const ring = Array.from({ length: 6 }, (_, k) => circle(3, 50 + 30 * Math.cos((k * Math.PI) / 3), 50 + 30 * Math.sin((k * Math.PI) / 3)));
    const list = featuresIn(withShape(circle(45, 50, 50), ring));
    const hole = list.find((f) => f.kind === 'axis' && f.size! < 10)!;
    const said = measuredAt(hole, list);
    expect(of(said, 'count')).toBe(6);
    expect(of(said, 'circle')).toBeCloseTo(60, 3);
    expect(of(said, 'spacing')).toBeCloseTo(Math.PI * 10, 3);
  });

  it('holes in a row: their spacing', () => {
    const list = featuresIn(
      withShape(
        rectangle(0, 0, 120, 20),
        [15, 40, 65, 90].map((x) => circle(4, x, 10)),
      ),
    );
    const said = measuredAt(
      list.find((f) => f.kind === 'axis')!,
      list,
    );
    expect(of(said, 'count')).toBe(4);
    expect(of(said, 'spacing')).toBeCloseTo(25, 6);
  });

  it('tips of a rack: two edges a tooth, one spacing', () => {
    // Teeth with flat tips 3 wide, 12.566 apart.
    const p = 12.566;
    const points = Array.from({ length: 5 }, (_, k) => [k * p + 2, 0, k * p + 4, 6, k * p + 7, 6, k * p + 9, 0]).flat();
    const o: Outline = {
      start: [0, -10],
      pieces: [[5 * p, -10], ...Array.from({ length: 20 }, (_, i) => [points[2 * (19 - i)], points[2 * (19 - i) + 1]]), [0, -10]].map((to) => ({
        kind: 'line',
        to: to as [number, number],
      })),
    };
    const list = featuresIn(withShape(o, []));
    const tip = list.find((f) => f.kind === 'edge' && Math.abs(f.point[1] - 6) < 1e-6 && Math.abs(f.size! - 10) < 1e-6)!;
    const said = measuredAt(
      tip,
      list.filter((f) => f.kind !== 'edge' || Math.abs(f.point[1] - 6) < 1e-6),
    );
    expect(of(said, 'spacing')).toBeCloseTo(p, 6);
  });
});
