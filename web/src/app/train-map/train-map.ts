import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { piToText } from '@unirota/core/exact';
import type { Severity } from '@unirota/core/design';
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
    const s = this.store.selection();
    return s?.kind === kind && s.id === id;
  }
  protected readonly abs = Math.abs;
  /** Small teeth along a rack's line. */
  protected teeth(c: MapCoupling): string {
    const y = c.yb,
      up = c.ya < c.yb ? -1 : 1;
    let d = `M${c.x - 34} ${y}`;
    for (let k = 0; k < 8; k++) d += `l2 ${6 * up}h4l2 ${-6 * up}`;
    return d;
  }
  protected bearing(m: MapMember): string {
    const x = m.x1 - 46;
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
