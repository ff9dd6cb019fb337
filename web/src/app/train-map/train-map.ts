import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { piToText } from '@unirota/core/math';
import type { Severity } from '@unirota/core/document';
import { show } from '@unirota/core/units';
import { Selection, WorkbenchStore } from '../workbench/workbench.store';
import { MapCoupling, MapMember, mapLayout } from './map-layout';

const ORDER: Record<Severity, number> = { stop: 0, caution: 1, note: 2 };

/** The train map: the whole train as a kinematic diagram, live, and the place where things are selected. */
@Component({
  selector: 'uni-train-map',
  templateUrl: './train-map.html',
  styleUrl: './train-map.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class TrainMap {
  protected readonly store = inject(WorkbenchStore);
  protected readonly map = computed(() => mapLayout(this.store.worked().compiled));
  private readonly lines = computed(() => new Map(this.store.ledger().lines.map((l) => [l.member, l])));
  private readonly worst = computed(() => {
    const out = new Map<string, Severity>();
    for (const f of this.store.findings()) {
      for (const id of f.ids) {
        const had = out.get(id);
        if (!had || ORDER[f.severity] < ORDER[had]) out.set(id, f.severity);
      }
    }
    const design = this.store.design();
    for (const e of design.elements) {
      const s = out.get(e.id);
      const had = out.get(e.member);
      if (s && s !== 'note' && (!had || ORDER[s] < ORDER[had])) out.set(e.member, s);
    }
    return out;
  });
  private readonly met = computed(() => new Map(this.store.ledger().wanted.map((w) => [w.wanted, w.met])));

  protected trouble(id: string): Severity | undefined {
    const s = this.worst().get(id);
    return s === 'note' ? undefined : s;
  }
  protected speed(m: MapMember): string {
    const l = this.lines().get(m.id);
    return l ? (l.motion === 'slide' ? `${show(l.speed, 4)} mm/s` : `${show(l.speed, 4)} rev/min`) : '';
  }
  protected load(m: MapMember): string {
    const l = this.lines().get(m.id);
    return l ? (l.motion === 'slide' ? `${show(l.load, 4)} N` : `${show(l.load, 4)} N·m`) : '';
  }
  protected ratio(c: MapCoupling): string {
    if (!c.ratio) return '';
    const text = piToText(c.ratio).replace('-', '−');
    return text.length > 14 ? `≈ ${show(Number(c.ratio.q.n) / Number(c.ratio.q.d), 5)}` : c.slides ? `${text} mm/rev` : text;
  }
  protected isMet(id: string): boolean {
    return this.met().get(id) ?? false;
  }
  protected selected(kind: Selection['kind'], id: string): boolean {
    return this.store.selected().some((s) => s.kind === kind && s.id === id);
  }
  protected readonly abs = Math.abs;
  /** The coupling's symbol, after ISO 3952: wheels as bars across their shafts, a rack's teeth, a belt's two runs, a screw's thread, a pin. */
  protected symbol(c: MapCoupling): string {
    const { x, ya, yb, meet, farA, farB } = c;
    const bar = (from: number, to: number): string => `M${x} ${from}V${to}M${x - 6} ${from}h12M${x - 6} ${to}h12`;
    switch (c.type) {
      case 'joint':
      case 'proportional':
        return `M${x} ${ya}V${yb}`;
      case 'rack-mesh': {
        const up = ya < yb ? -1 : 1;
        let d = `${bar(farA, meet)}M${x - 34} ${yb}`;
        for (let k = 0; k < 8; k++) d += `l2 ${6 * up}h4l2 ${-6 * up}`;
        return d;
      }
      case 'belt':
      case 'chain': {
        const s = Math.sign(yb - ya) || 1;
        return `${bar(ya - 14 * s, ya + 14 * s)}${bar(yb - 14 * s, yb + 14 * s)}M${x - 9} ${ya}V${yb}M${x + 9} ${ya}V${yb}`;
      }
      case 'cam-contact':
        return `M${x - 11} ${ya}a11 11 0 1 1 22 0c0 9 -6 10 -11 16c-5 -6 -11 -7 -11 -16M${x} ${ya + 16 * (Math.sign(yb - ya) || 1)}V${yb}M${x - 7} ${yb - 12 * (Math.sign(yb - ya) || 1)}h14`;
      case 'ratchet':
      case 'one-way-clutch': {
        const s = Math.sign(yb - ya) || 1;
        return `M${x - 8} ${ya}h16M${x - 8} ${yb}h16M${x} ${ya}V${yb}M${x - 6} ${yb - 14 * s}l6 ${10 * s}l6 ${-10 * s}Z`;
      }
      case 'screw-drive': {
        const step = (yb - ya) / 6;
        let d = `M${x} ${ya}`;
        for (let k = 0; k < 6; k++) d += `L${x + (k % 2 ? -7 : 7)} ${ya + (k + 0.5) * step}`;
        return `${d}L${x} ${yb}`;
      }
      default: {
        const s = Math.sign(yb - ya) || 1;
        return `${bar(farA, meet)}${bar(meet + 3 * s, farB)}`;
      }
    }
  }
  protected bearing(m: MapMember): string {
    const x = m.x1 - 66;
    const half = m.slide ? 9 : 7,
      y = m.y;
    let d = '';
    for (const s of [-1, 1]) {
      const e = y + s * 4;
      d += `M${x - half} ${e}h${2 * half}`;
      for (let k = 0; k < 4; k++) d += `M${x - half + 2 + k * 4.5} ${e}l-3 ${s * 4}`;
    }
    return d;
  }
}
