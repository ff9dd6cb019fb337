import { ChangeDetectionStrategy, Component, ElementRef, computed, inject, signal, viewChild } from '@angular/core';
import { MatButton, MatIconButton } from '@angular/material/button';
import { MatTooltip } from '@angular/material/tooltip';
import { MatSlider, MatSliderThumb } from '@angular/material/slider';
import { Field } from '@unirota/core/document';
import { nominalRate } from '@unirota/core';
import { Choice } from '../../ui/choice';
import { Icon } from '../../ui/icon';
import { Committed, QuantityField } from '../../ui/quantity-field';
import { show, motionUnit } from '@unirota/core/units';
import { UnitsService } from '../../state/units.service';
import { DesignService } from '../../state/design.service';
import { SelectionService } from '../../state/selection.service';
import { MotionService } from '../../state/motion.service';
import { RoomService } from '../../state/room.service';

const FOLDED_WANTED = 2;

/**
 * The crank deck: turns the source by hand and counts, plays it at
 * its nominal speed, and shows the wanted outputs met or missed.
 */
@Component({
  selector: 'uni-crank-deck',
  imports: [Choice, Icon, MatButton, MatIconButton, MatSlider, MatSliderThumb, MatTooltip, QuantityField],
  templateUrl: './crank-deck.html',
  styleUrl: './crank-deck.scss',
  host: { role: 'region', 'aria-label': 'Crank deck', '[class.folded]': '!room.deckOpen()' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class CrankDeck {
  protected readonly doc = inject(DesignService);
  protected readonly chosen = inject(SelectionService);
  protected readonly motion = inject(MotionService);
  protected readonly room = inject(RoomService);
  protected readonly units = inject(UnitsService).now;
  protected readonly show = show;
  private readonly wheel = viewChild<ElementRef<SVGElement>>('wheel');
  protected readonly gripped = signal(false);
  private lastAngle = 0;

  protected readonly slides = this.motion.sourceSlides;
  protected readonly motionUnit = computed(() => motionUnit(this.slides()));
  protected readonly unit = computed(() => this.motionUnit().path);
  protected readonly interval = computed(() => {
    const s = this.motion.source();
    return s ? this.motion.hand().interval(s.coordinate) : {};
  });
  protected readonly field = computed<Field>(() => ({
    key: 'position',
    label: $localize`Position of the source`,
    kind: 'number',
    unit: this.unit(),
  }));
  protected readonly rounded = computed(() => Number(this.motion.position().toFixed(5)));
  protected readonly angle = computed(() => (this.slides() ? this.motion.position() * 3.6 : this.motion.position() * 360));
  /** Ends of the time scale: the stops, or a whole turn about where the source stands. */
  protected readonly range = computed(() => {
    const { lower, upper } = this.interval();
    const open = this.slides() ? 100 : 10;
    return {
      from: lower?.at ?? Math.floor(Math.min(0, this.motion.position()) - (upper ? open : 0)),
      to: upper?.at ?? Math.ceil(Math.max(open, this.motion.position())),
    };
  });
  protected readonly seconds = computed(() => {
    const s = this.motion.source();
    const m = this.motion.worked().pose;
    if (!s || !m.sourceSpeed[this.motion.driverSlot()]) return undefined;
    const rate = Math.abs(nominalRate(m, s.coordinate, m.sourceSpeed[this.motion.driverSlot()])) / m.kinematics.scale[s.coordinate];
    return { at: (this.motion.position() - this.range().from) / rate, all: (this.range().to - this.range().from) / rate };
  });
  /** What the deck has room for: folded two, those that are missed first. */
  protected readonly listed = computed(() => {
    const all = this.wanted();
    const missed = (w: (typeof all)[number]): boolean => !w.met && w.value !== undefined;
    return this.room.deckOpen() ? all : [...all.filter(missed), ...all.filter((w) => !missed(w))].slice(0, FOLDED_WANTED);
  });
  protected readonly wanted = computed(() => {
    const d = this.doc.design();
    return this.motion.ledger().wanted.map((r) => ({ ...r, name: d.wanted.find((w) => w.id === r.wanted)?.name ?? r.wanted, off: r.off }));
  });

  private pointerAngle(e: PointerEvent): number {
    const r = this.wheel()!.nativeElement.getBoundingClientRect();
    return Math.atan2(e.clientX - r.left - r.width / 2, -(e.clientY - r.top - r.height / 2));
  }
  protected grip(e: PointerEvent): void {
    this.motion.play(0);
    this.gripped.set(true);
    this.lastAngle = this.pointerAngle(e);
    (e.currentTarget as HTMLElement).setPointerCapture(e.pointerId);
  }
  protected turn(e: PointerEvent): void {
    if (!this.gripped()) return;
    const now = this.pointerAngle(e);
    let step = (now - this.lastAngle) / (2 * Math.PI);
    step -= Math.round(step);
    this.lastAngle = now;
    this.by(step);
  }
  protected drop(): void {
    this.gripped.set(false);
  }
  protected roll(e: WheelEvent): void {
    e.preventDefault();
    this.motion.play(0);
    this.by(-Math.sign(e.deltaY) * (e.shiftKey ? 0.25 : 0.02));
  }
  /** By parts of a turn of the handle; a sliding source moves 100 mm per turn of it. */
  private by(turns: number): void {
    this.motion.turnBy(this.slides() ? turns * 100 : turns);
  }
  protected key(e: KeyboardEvent): void {
    const step = e.shiftKey ? 1 : e.altKey ? 1 / 360 : 1 / 24;
    const { lower, upper } = this.interval();
    switch (e.key) {
      case 'ArrowUp':
      case 'ArrowRight':
        this.by(step);
        break;
      case 'ArrowDown':
      case 'ArrowLeft':
        this.by(-step);
        break;
      case 'PageUp':
        this.snap(1);
        break;
      case 'PageDown':
        this.snap(-1);
        break;
      case 'Home':
        if (lower) this.motion.turnTo(lower.at);
        else this.motion.turnTo(0);
        break;
      case 'End':
        if (upper) this.motion.turnTo(upper.at);
        break;
      default:
        return;
    }
    this.motion.play(0);
    e.preventDefault();
  }
  /** To the next quarter turn (or 25 mm). */
  protected snap(sense: 1 | -1): void {
    const grid = this.slides() ? 25 : 0.25;
    const at = this.motion.position() / grid;
    const next = sense > 0 ? Math.floor(at + 1e-9) + 1 : Math.ceil(at - 1e-9) - 1;
    this.motion.turnTo(next * grid);
  }
  protected home(): void {
    const s = this.motion.source();
    const joints = this.doc.design().joints.filter((j) => j.home !== undefined);
    this.motion.play(0);
    const w = this.motion.worked();
    const first = joints.map((j) => ({ j, i: w.compiled.structure.firstOf.get(j.id) })).find((x) => x.i !== undefined);
    if (first) {
      const c = w.compiled.structure.coordinates[first.i!];
      this.motion.lead(c.index, (Number(first.j.home) / (c.motion === 'slide' ? 1 : 360)) * w.pose.kinematics.scale[c.index]);
    } else if (s) this.motion.turnTo(0);
  }
  protected typed(c: Committed): void {
    this.motion.play(0);
    if (c.value !== undefined) this.motion.turnTo(Number(c.value));
  }
  protected scrub(to: number): void {
    this.motion.play(0);
    this.motion.turnTo(to);
  }
  protected readonly rates = [0.1, 0.25, 0.5, 1, 2, 5].map((value) => ({ value, label: `× ${value}` }));
  protected readonly caseName = computed(() => this.doc.design().cases?.find((c) => c.id === this.doc.loadCase())?.name);
  protected readonly drivers = computed(() => this.motion.worked().compiled.sources.map((x, value) => ({ value, label: x.source.name })));
}
