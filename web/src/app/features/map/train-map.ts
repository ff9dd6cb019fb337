import { ChangeDetectionStrategy, Component, DestroyRef, ElementRef, computed, effect, inject, signal, viewChild } from '@angular/core';
import { MatButton, MatIconButton } from '@angular/material/button';
import { MatTooltip } from '@angular/material/tooltip';
import {
  type MapCoupling,
  type MapMember,
  bearing,
  couplingRatio,
  exactRatio,
  linesInBox,
  linkageText,
  loadText,
  loadsText,
  mapLayout,
  speedText,
  symbolPath,
  wayTo,
} from '@unirota/core';
import type { Id, Severity } from '@unirota/core/document';
import { Icon } from '../../ui/icon';
import { UnitsService } from '../../state/units.service';
import { Selection } from '../../state/items';
import { DesignService } from '../../state/design.service';
import { SelectionService } from '../../state/selection.service';
import { effectMark } from '../../ui/load-effect';
import { MotionService } from '../../state/motion.service';
import { FindingsService } from '../../state/findings.service';
import { RoomService } from '../../state/room.service';
import { Pressable } from './pressable';
import { Named } from '../../ui/named';

const ORDER: Record<Severity, number> = { fault: 0, caution: 1, note: 2 };
/** How far it can be drawn larger and smaller. */
const SCALES = { least: 0.4, readable: 0.85, most: 2, step: 1.25 };
const LEAST_HEIGHT = 90;
const LEAST_TOOLS = 160;
const SCROLL_BAR = 16;
const EMPTY_HEIGHT = 90;

/** The train map: the whole train as a kinematic diagram, live, and the place where things are selected. */
@Component({
  selector: 'uni-train-map',
  imports: [Named, Icon, MatButton, MatIconButton, MatTooltip, Pressable],
  host: { '[class.folded]': '!room.mapOpen()' },
  templateUrl: './train-map.html',
  styleUrl: './train-map.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class TrainMap {
  protected readonly doc = inject(DesignService);
  protected readonly chosen = inject(SelectionService);
  protected readonly motion = inject(MotionService);
  protected readonly found = inject(FindingsService);
  protected readonly units = inject(UnitsService).now;
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef);
  private readonly paper = viewChild<ElementRef<HTMLElement>>('paper');
  /** Linkages that are drawn joint by joint. */
  private readonly open = signal<ReadonlySet<Id>>(new Set());
  protected readonly map = computed(() => mapLayout(this.motion.worked().compiled, this.open()));
  protected readonly scale = signal(1);
  private fitted = '';
  protected readonly toSource = signal(false);
  protected readonly room = inject(RoomService);
  private readonly lines = computed(() => new Map(this.motion.ledger().lines.map((l) => [l.member, l])));
  private readonly worst = computed(() => {
    const out = new Map<string, Severity>();
    for (const f of this.found.findings()) {
      for (const id of f.ids) {
        const had = out.get(id);
        if (!had || ORDER[f.severity] < ORDER[had]) out.set(id, f.severity);
      }
    }
    const design = this.doc.design();
    for (const e of design.elements) {
      const s = out.get(e.id);
      const had = out.get(e.member);
      if (s && s !== 'note' && (!had || ORDER[s] < ORDER[had])) out.set(e.member, s);
    }
    return out;
  });
  private readonly met = computed(() => new Map(this.motion.ledger().wanted.map((w) => [w.wanted, w.met])));

  constructor() {
    // A design that is opened is drawn a little smaller where it then fits.
    effect(() => {
      const { width, height } = this.map();
      if (this.fitted === this.doc.id() || !this.paper()) return;
      this.fitted = this.doc.id();
      // It has yet to take the height that it may have.
      const room = innerHeight / 3;
      this.scale.set(Math.min(1, Math.max(SCALES.readable, Math.min(this.paper()!.nativeElement.clientWidth / width, room / height))));
    });
    // The bar beside it needs its height too; a drawing that is too wide has a scroll bar below.
    effect(() => {
      const { width, height, members } = this.map();
      const wide = width * this.scale() > (this.paper()?.nativeElement.clientWidth ?? Infinity);
      this.room.natural.set(members.length ? Math.max(LEAST_TOOLS, Math.ceil(height * this.scale()) + (wide ? SCROLL_BAR : 1)) : EMPTY_HEIGHT);
    });
    // At which edges the drawing goes on: told anew when it, its scale or the pane changes.
    const watch = new ResizeObserver(() => this.lookBeyond());
    inject(DestroyRef).onDestroy(() => watch.disconnect());
    effect((done) => {
      const box = this.paper()?.nativeElement;
      this.map();
      this.scale();
      if (!box) return;
      watch.observe(box);
      const after = requestAnimationFrame(() => this.lookBeyond());
      done(() => {
        watch.unobserve(box);
        cancelAnimationFrame(after);
      });
    });
    // What is selected elsewhere is brought into sight.
    effect(() => {
      const s = this.chosen.selection();
      if (!s) return;
      setTimeout(() => {
        const at = this.host.nativeElement.querySelector(`[data-id="${CSS.escape(s.id)}"]`);
        if (at && !at.contains(document.activeElement)) at.scrollIntoView({ block: 'nearest', inline: 'nearest' });
      });
    });
  }

  protected readonly beyond = signal({ left: false, right: false, up: false, down: false });
  protected lookBeyond(): void {
    const box = this.paper()?.nativeElement;
    if (!box) return;
    const now = {
      left: box.scrollLeft > 1,
      right: box.scrollLeft + box.clientWidth < box.scrollWidth - 1,
      up: box.scrollTop > 1,
      down: box.scrollTop + box.clientHeight < box.scrollHeight - 1,
    };
    if (Object.entries(now).some(([k, v]) => this.beyond()[k as keyof typeof now] !== v)) this.beyond.set(now);
  }

  /** The folded map: members and couplings from the source to what is selected, else to the first wanted output. */
  protected readonly way = computed(() => {
    const s = this.chosen.selection();
    const d = this.doc.design();
    const of = (id: Id | undefined): Id | undefined => d.joints.find((j) => j.id === id)?.child;
    const item = this.doc.item(s);
    const wanted = String((d.wanted[0] as { joint?: Id } | undefined)?.joint ?? '').split(':')[0];
    const to =
      s?.kind === 'member'
        ? s.id
        : s?.kind === 'coupling'
          ? s.id
          : ((item?.['member'] as Id | undefined) ?? (s?.kind === 'joint' ? of(s.id) : of(item?.['joint'] as Id | undefined)));
    return wayTo(this.map(), to ?? of(wanted));
  });

  protected trouble(...ids: string[]): Severity | undefined {
    const all = ids.map((id) => this.worst().get(id));
    return all.includes('fault') ? 'fault' : all.includes('caution') ? 'caution' : undefined;
  }
  protected speed(m: MapMember): string {
    return speedText(m, this.lines().get(m.id), this.units());
  }
  protected load(m: MapMember): string {
    return loadText(this.lines().get(m.id), this.units());
  }
  /** Names of the loads on a member, as many as there is room for. */
  protected acting(m: MapMember): string {
    return loadsText(m.loads.map((l) => effectMark(this.motion.loadEffects().get(l.id)) + l.name));
  }
  protected ratio(c: MapCoupling): string {
    const { reduction, sources } = this.motion.worked().compiled;
    const from = this.toSource() && c.driven >= 0 ? sources[0]?.coordinate : undefined;
    if (from === undefined) return couplingRatio(c, this.units());
    return couplingRatio({ ratio: exactRatio(reduction, c.driven, from), unit: this.unitFrom(from, c.driven) }, this.units());
  }
  private unitFrom(a: number, b: number): MapCoupling['unit'] {
    const { coordinates } = this.motion.worked().compiled.structure;
    const [p, q] = [coordinates[a].motion === 'slide', coordinates[b].motion === 'slide'];
    return p === q ? '' : q ? 'mm/rev' : 'rev/mm';
  }
  protected isMet(id: string): boolean {
    return this.met().get(id) ?? false;
  }
  protected selected(kind: Selection['kind'], id: string): boolean {
    return this.chosen.selected().some((s) => s.kind === kind && s.id === id);
  }
  protected readonly symbol = symbolPath;
  protected readonly bearing = bearing;
  /** Members that a closed box names: as many as it has lines for; all of them stand in it when it is opened. */
  protected readonly inside = linesInBox;
  protected top(c: MapCoupling): number {
    return Math.min(...c.touches.map((t) => t.y), c.ground?.y ?? Infinity, c.set?.pin.from ?? Infinity) - 12;
  }
  protected bottom(c: MapCoupling): number {
    return Math.max(...c.touches.map((t) => t.y)) + 14;
  }
  protected readonly freedom = linkageText;

  protected kindOf(c: MapCoupling): 'joint' | 'coupling' {
    return c.type === 'joint' || c.type === 'linkage' ? 'joint' : 'coupling';
  }
  /** Opens a linkage into its joints, in place; or all of them shut again. */
  protected unfold(id: Id): void {
    this.open.set(new Set([...this.open(), id]));
  }
  protected readonly unfolded = computed(() => this.open().size > 0);
  protected fold(): void {
    this.open.set(new Set());
  }
  /** The next of several planets that are drawn as one. */
  protected nextOf(m: MapMember): void {
    const all = [m.id, ...m.alike];
    const at = all.findIndex((id) => this.selected('member', id));
    this.chosen.select('member', all[(at + 1) % all.length]);
  }
  protected anySelected(m: MapMember): boolean {
    return [m.id, ...m.alike].some((id) => this.selected('member', id));
  }

  protected zoom(by: number): void {
    this.scale.set(Math.min(SCALES.most, Math.max(SCALES.least, this.scale() * by)));
  }
  protected readonly step = SCALES.step;
  protected fit(): void {
    const box = this.paper()?.nativeElement;
    if (!box) return;
    const { width, height } = this.map();
    this.scale.set(Math.min(1, Math.max(SCALES.least, Math.min(box.clientWidth / width, Math.max(box.clientHeight, LEAST_HEIGHT) / height))));
    box.scrollTo(0, 0);
  }
  protected wheel(e: WheelEvent): void {
    const box = this.paper()?.nativeElement;
    if (!box) return;
    if (!e.ctrlKey && !e.metaKey) {
      // Where there is nothing to go down to, the wheel goes along.
      if (box.scrollHeight <= box.clientHeight && e.deltaX === 0) box.scrollLeft += e.deltaY;
      return;
    }
    e.preventDefault();
    const r = box.getBoundingClientRect();
    const [x, y] = [e.clientX - r.left, e.clientY - r.top];
    const before = this.scale();
    this.zoom(Math.exp(-e.deltaY * 0.002));
    const k = this.scale() / before;
    requestAnimationFrame(() => box.scrollTo((box.scrollLeft + x) * k - x, (box.scrollTop + y) * k - y));
  }
  /** Drawn by its empty paper it is shifted. */
  protected shift(e: PointerEvent): void {
    const box = this.paper()?.nativeElement;
    if (!box || e.button !== 0 || (e.target as Element).closest('[role="button"]')) return;
    const [left, top] = [box.scrollLeft + e.clientX, box.scrollTop + e.clientY];
    const move = (m: PointerEvent): void => box.scrollTo(left - m.clientX, top - m.clientY);
    const end = (): void => {
      box.removeEventListener('pointermove', move);
      box.removeEventListener('pointerup', end);
    };
    box.addEventListener('pointermove', move);
    box.addEventListener('pointerup', end);
  }
  /** Arrow keys walk along the train: to what stands next in that direction. */
  protected walk(e: KeyboardEvent): void {
    const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[e.key];
    const here = (e.target as Element).closest('[data-walk]');
    if (!way || !here) return;
    const middle = (el: Element): [number, number] => {
      const r = el.getBoundingClientRect();
      return [r.left + r.width / 2, r.top + r.height / 2];
    };
    const [x, y] = middle(here);
    let best: Element | undefined,
      least = Infinity;
    for (const el of this.host.nativeElement.querySelectorAll('[data-walk]')) {
      if (el === here) continue;
      const [ex, ey] = middle(el);
      const ahead = (ex - x) * way[0] + (ey - y) * way[1],
        aside = Math.abs((ex - x) * way[1]) + Math.abs((ey - y) * way[0]);
      if (ahead > 4 && ahead + 2 * aside < least) [best, least] = [el, ahead + 2 * aside];
    }
    if (!best) return;
    e.preventDefault();
    e.stopPropagation();
    (best as unknown as HTMLElement).focus();
  }
}
