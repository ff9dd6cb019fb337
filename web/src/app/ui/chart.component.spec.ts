import { ChangeDetectionStrategy, Component, signal, viewChild } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { TestbedHarnessEnvironment } from '@angular/cdk/testing/testbed';
import { describe, expect, it } from 'vitest';
import { ChartHarness } from '../testing/chart.harness';
import { Chart, type Curve } from './chart';

const LINE: Curve = { label: 'Torque', xs: [0, 1, 2, 3, 4], ys: [0, 10, 20, 30, 40] };

@Component({
  imports: [Chart],
  template: `
    <uni-chart
      style="width: 460px"
      heading="Torque over time"
      unit="N·m"
      xLabel="Time"
      xUnit="s"
      [curves]="curves()"
      [cursor]="cursor()"
      [part]="part()"
      [points]="points()"
      (moved)="cursor.set($event)"
      (parted)="part.set($event)"
      (dragged)="pulled.set($event)"
    />
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
class Host {
  readonly curves = signal<readonly Curve[]>([LINE]);
  readonly cursor = signal<number | undefined>(undefined);
  readonly part = signal<readonly [number, number] | undefined>(undefined);
  readonly points = signal<readonly { x: number; y: number; label: string; text: string }[]>([]);
  readonly pulled = signal<{ index: number; x: number; y: number; done: boolean } | undefined>(undefined);
  readonly chart = viewChild.required(Chart);
}
async function shown() {
  const fixture = TestBed.createComponent(Host);
  const chart = await TestbedHarnessEnvironment.loader(fixture).getHarness(ChartHarness);
  return { host: fixture.componentInstance, fixture, chart };
}

describe('a chart', () => {
  it('has scales in the units of the design, with round numbers', async () => {
    const { chart } = await shown();
    expect(await chart.ticks()).toEqual(expect.arrayContaining(['0', '10', '20', '30', '40']));
    expect(await chart.texts()).toEqual(expect.arrayContaining(['Torque over time', 'Time, s']));
  });

  it('a press moves the cursor, and says what the curve has there', async () => {
    const { host, chart } = await shown();
    await chart.press(0.5);
    expect(host.cursor()).toBeCloseTo(2, 1);
    host.cursor.set(2.5);
    expect(await chart.texts()).toContain('25 N·m');
    await chart.press(2);
    expect(host.cursor()).toBe(4);
  });

  it('a stretch that is marked along the scale is the part that is looked at; a double press gives the whole', async () => {
    const { host, chart } = await shown();
    await chart.mark(0.25, 0.5);
    expect(host.part()![0]).toBeCloseTo(1, 1);
    expect(host.part()![1]).toBeCloseTo(2, 1);
    // What the curve has in this part: 10 to 20.
    expect(await chart.ticks()).not.toContain('40');
    await chart.doublePress();
    expect(host.part()).toBeUndefined();
    // Too short to be meant.
    await chart.mark(0.5, 0.51);
    expect(host.part()).toBeUndefined();
  });

  it('a peak without bound is cut, and says how far it goes', async () => {
    const { host, chart } = await shown();
    const xs = Array.from({ length: 100 }, (_, k) => k);
    host.curves.set([{ label: 'Force', xs, ys: xs.map((k) => (k === 50 ? 5000 : Math.sin(k))) }]);
    expect((await chart.texts()).filter((t) => t.startsWith('cut, to'))).toEqual(['cut, to 5000 N·m']);
  });

  it('a gap in the figures is a gap in the curve', async () => {
    const { host, chart } = await shown();
    host.curves.set([{ label: 'Force', xs: [0, 1, 2, 3, 4], ys: [0, 1, NaN, 3, 4] }]);
    expect((await chart.curve()).match(/M/g)).toHaveLength(2);
  });

  it('its points are moved with the arrow keys, a hundredth of what is shown', async () => {
    const { host, chart } = await shown();
    host.points.set([{ x: 1, y: 10, label: 'Point 1', text: '10 N·m at 1 s' }]);
    await chart.nudge(0, 'ArrowRight');
    expect(host.pulled()).toEqual({ index: 0, x: expect.closeTo(1.04, 9) as number, y: 10, done: true });
    await chart.nudge(0, 'ArrowUp');
    expect(host.pulled()!.y).toBeCloseTo(10.4, 9);
  });
});
