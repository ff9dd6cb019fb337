import { ChangeDetectionStrategy, Component, ElementRef, computed, effect, inject, input, output, signal, viewChild } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { animationFrameScheduler, auditTime, fromEvent } from 'rxjs';
import { MatButton } from '@angular/material/button';
import { MatButtonToggle, MatButtonToggleGroup } from '@angular/material/button-toggle';
import {
  type Built,
  type Feature,
  type Join,
  type NotBuilt,
  type Measured,
  addPart,
  arrayAround,
  featuresOf,
  joinFeatures,
  measuredAt,
  measuredBetween,
  mirrored,
} from '@unirota/core';
import type { Design, Field } from '@unirota/core/document';
import { FieldInHand } from '../../state/field-in-hand';
import { UnitsService } from '../../state/units.service';
import { Named } from '../../ui/named';
import { QuantityField } from '../../ui/quantity-field';
import { DesignService } from '../../state/design.service';
import { SelectionService } from '../../state/selection.service';
import { ViewService } from '../../state/view.service';

type How = Join | 'round' | 'mirror';
const HOWS: readonly { how: How; label: string; first: string; second: string }[] = [
  { how: 'pin', label: $localize`Pin`, first: $localize`Pick what is carried there`, second: $localize`and the place where the pin goes` },
  { how: 'pin-in-slot', label: $localize`Slot`, first: $localize`Pick the pin`, second: $localize`and the place where its slot runs` },
  { how: 'slide', label: $localize`Slide`, first: $localize`Pick what slides`, second: $localize`and a face, an axis or an edge that shows the way` },
  { how: 'fixed', label: $localize`Fix`, first: $localize`Pick what is fixed there`, second: $localize`and what it is fixed to` },
  { how: 'flush', label: $localize`Flush`, first: $localize`Pick the face that goes there`, second: $localize`and the face that it lies against` },
  { how: 'coaxial', label: $localize`One axis`, first: $localize`Pick the axis that goes there`, second: $localize`and the axis that it comes to` },
  { how: 'apart', label: $localize`Apart`, first: $localize`Pick what goes there`, second: $localize`and what it is measured from` },
  { how: 'round', label: $localize`Ring`, first: $localize`Pick the axis that the copies of the selected go round`, second: '' },
  { how: 'mirror', label: $localize`Mirror`, first: $localize`Pick the face or axis across which the mirror stands`, second: '' },
];
const PARTS = [
  { kind: 'lever', label: $localize`Lever` },
  { kind: 'shaft', label: $localize`Shaft` },
  { kind: 'slide', label: $localize`Slide` },
  { kind: 'body', label: $localize`Body` },
  { kind: 'frame', label: $localize`Block on the frame` },
] as const;
const number = (key: string, label: string, unit: string): Field => ({ key, label, kind: 'number', unit, min: -1e6, max: 1e6 });

/** How far from the pointer places are shown, px, and how many at most. */
const REACH = 70;
const MOST_DOTS = 10;

/** The places within reach of a point, the nearest first, by their numbers; pixels two by two. */
export function nearest(at: Float64Array, x: number, y: number, count: number): number[] {
  const far = (k: number): number => (at[2 * k] - x) ** 2 + (at[2 * k + 1] - y) ** 2;
  return Array.from({ length: Math.min(count, at.length / 2) }, (_, k) => k)
    .filter((k) => far(k) < REACH * REACH)
    .sort((a, b) => far(a) - far(b));
}

/** A place of the picture where a feature stands: body, and point in its reference frame, mm. */
export interface Spot {
  element: string;
  member: string;
  point: Feature['point'];
}

/**
 * Building without arithmetic: parts are added beside what is there, and put together
 * by picking two places of theirs. The places stand as dots on the picture, which are
 * buttons with names: they are picked with the pointer or from the keyboard.
 */
@Component({
  selector: 'uni-build-bar',
  imports: [MatButton, MatButtonToggle, MatButtonToggleGroup, Named, QuantityField],
  template: `
    <div #dots class="dots">
      @for (f of features(); track f.ref) {
        <button
          type="button"
          class="dot"
          [class.first]="first()?.ref === f.ref || second()?.ref === f.ref"
          [attr.aria-label]="f.label"
          (click)="pick(f)"
          (pointerenter)="looked.set(f.label)"
          (focus)="looked.set(f.label)"
          (pointerleave)="looked.set('')"
          (blur)="looked.set('')"
        ></button>
      }
    </div>
    @if (measuring()) {
      <div i18n-aria-label class="bar" role="group" aria-label="Measure">
        <div class="line">
          <p role="status" class="said">
            @if (first(); as f) {
              <b>{{ f.label }}</b>
              @if (second(); as g) {
                – <b>{{ g.label }}</b>
              } @else {
                <span i18n class="soft">· pick another place to measure to it</span>
              }
            } @else {
              <span i18n>Pick a place: an axis, a face, an edge or a corner</span>
            }
            @if (looked(); as l) {
              <b class="soft"> · {{ l }}</b>
            }
          </p>
          <button i18n matButton type="button" [disabled]="!first()" (click)="first.set(undefined); second.set(undefined)">Measure anew</button>
          <button i18n matButton type="button" (click)="closed.emit()">Close</button>
        </div>
        <div class="line values">
          @for (m of measured(); track m.key) {
            <span class="value">
              <span class="soft">{{ m.label }}</span> <b>{{ units().text(m.value, m.unit, 7) }}</b>
              @if (fits(m)) {
                <button matButton="outlined" type="button" [uniName]="putInto(m)" (click)="hand.field()!.put(m.value)">
                  → {{ hand.field()!.label }}
                </button>
              }
            </span>
          }
        </div>
        @if (measured().length && !hand.field()) {
          <p i18n class="soft">A field that was entered last takes a measured value: click into one of the data sheet.</p>
        }
      </div>
    } @else {
      <div i18n-aria-label class="bar" role="group" aria-label="Build">
        <div class="line">
          <span i18n class="soft">Add</span>
          @for (p of parts; track p.kind) {
            <button matButton="outlined" type="button" (click)="add(p.kind)">{{ p.label }}</button>
          }
          <span class="gap"></span>
          <button i18n matButton type="button" (click)="closed.emit()">Close</button>
        </div>
        <div class="line">
          <span i18n class="soft">Connect</span>
          <mat-button-toggle-group
            i18n-aria-label
            aria-label="How two places are put together"
            hideSingleSelectionIndicator
            [value]="how()"
            (change)="choose($event.value)"
          >
            @for (h of hows; track h.how) {
              <mat-button-toggle [value]="h.how">{{ h.label }}</mat-button-toggle>
            }
          </mat-button-toggle-group>
          @if (how() === 'apart') {
            @for (f of apartFields; track f.key) {
              <label class="soft" [attr.for]="'b-' + f.key">{{ f.label }}</label>
              <uni-quantity-field [inputId]="'b-' + f.key" [field]="f" [value]="goal()[f.key]" (committed)="aim(f.key, $event.value)" />
            }
          }
          @if (how() === 'round') {
            <label i18n class="soft" for="b-count">In all</label>
            <uni-quantity-field inputId="b-count" [field]="countField" [value]="count()" (committed)="count.set(+($event.value ?? 3))" />
          }
        </div>
        <p role="status" [class.trouble]="trouble()">
          @if (trouble(); as t) {
            {{ t }}
          } @else if (first(); as f) {
            <b>{{ f.label }}</b> {{ now().second }}
          } @else {
            {{ now().first }}
            @if (said(); as done) {
              <span class="soft"> · {{ done }}</span>
            }
          }
          @if (looked(); as l) {
            <b class="soft"> · {{ l }}</b>
          }
        </p>
      </div>
    }
  `,
  styleUrl: './build-bar.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class BuildBar {
  protected readonly doc = inject(DesignService);
  protected readonly chosen = inject(SelectionService);
  protected readonly view = inject(ViewService);
  /** Places are picked to measure between them, not to connect them. */
  readonly measuring = input(false);
  readonly closed = output();
  /** Whether a place can be seen, by its number: nothing stands before it but its own element. */
  readonly sees = input<(k: number) => boolean>(() => true);
  /** The places that are drawn now, for whoever moves the dots with the picture. */
  readonly spots = output<readonly Spot[]>();
  private readonly dots = viewChild.required<ElementRef<HTMLElement>>('dots');
  protected readonly hows = HOWS;
  protected readonly parts = PARTS;
  protected readonly how = signal<How>('pin');
  protected readonly first = signal<Feature | undefined>(undefined);
  protected readonly looked = signal('');
  protected readonly trouble = signal('');
  protected readonly said = signal('');
  protected readonly apartFields = [number('along', $localize`Along`, 'mm'), number('across', 'across', 'mm'), number('angle', 'at', 'deg')];
  protected readonly countField: Field = { key: 'count', label: $localize`In all`, kind: 'whole', min: 2, max: 360 };
  protected readonly goal = signal<Record<string, number>>({});
  protected readonly count = signal(3);
  protected readonly now = computed(() => HOWS.find((h) => h.how === this.how())!);
  protected readonly features = computed(() => {
    const d = this.doc.design();
    const hidden = this.view.hidden();
    return d.elements.filter((e) => !hidden.has(e.member)).flatMap((e) => featuresOf(d, e));
  });

  constructor() {
    fromEvent<PointerEvent>(document, 'pointermove')
      .pipe(auditTime(0, animationFrameScheduler), takeUntilDestroyed())
      .subscribe((e) => {
        this.pointer = { x: e.clientX, y: e.clientY };
        this.showNear();
      });
    effect(() => this.spots.emit(this.features().map((f) => ({ element: f.element, member: f.member, point: f.point }))));
    effect(() => {
      // Measuring begins without a place, and so does building.
      this.measuring();
      this.first.set(undefined);
      this.second.set(undefined);
    });
    effect(() => {
      // What was picked may be gone, or stand elsewhere.
      const f = this.first();
      if (f && !this.features().some((x) => x.ref === f.ref)) this.first.set(undefined);
    });
  }

  /** Where the dots are on the picture, pixels two by two. */
  private at: Float64Array = new Float64Array(0);
  private pointer: { x: number; y: number } | undefined;
  /** Shows the places near the pointer that can be seen, the nearest on top; the others stay for the keyboard, unseen. */
  private showNear(): void {
    const { children } = this.dots().nativeElement;
    const box = this.dots().nativeElement.getBoundingClientRect();
    const p = this.pointer;
    const near = p ? nearest(this.at, p.x - box.left, p.y - box.top, children.length) : [];
    const shown = new Map<number, number>();
    for (const k of near) {
      if (shown.size >= MOST_DOTS) break;
      if (this.sees()(k)) shown.set(k, MOST_DOTS - shown.size);
    }
    for (let k = 0; k < children.length; k++) {
      const dot = children[k] as HTMLElement;
      const rank = shown.get(k);
      dot.classList.toggle('near', rank !== undefined);
      // Behind something: the pointer does not find it either.
      dot.classList.toggle('behind', rank === undefined && near.includes(k));
      dot.style.zIndex = rank === undefined ? '' : String(rank);
    }
  }
  /** Puts the dots where the picture has their places, pixels two by two. */
  place(at: Float64Array): void {
    this.at = at;
    const { children } = this.dots().nativeElement;
    for (let k = 0; k < children.length && 2 * k < at.length; k++) {
      (children[k] as HTMLElement).style.transform = `translate(${at[2 * k].toFixed(1)}px, ${at[2 * k + 1].toFixed(1)}px)`;
    }
    this.showNear();
  }

  protected choose(how: How): void {
    this.how.set(how);
    this.first.set(undefined);
    this.trouble.set('');
  }
  protected aim(key: string, value: unknown): void {
    this.goal.update((g) => ({ ...g, [key]: Number(value ?? 0) }));
  }
  protected add(kind: string): void {
    const made = addPart(this.doc.design(), kind);
    const trouble = this.doc.edit($localize`Add ${kind === 'frame' ? 'block on the frame' : kind}`, () => made.design);
    this.trouble.set(trouble ?? '');
    if (!trouble) this.chosen.select('element', made.element);
  }

  protected pick(f: Feature): void {
    if (this.measuring()) return this.pickMeasured(f);
    const how = this.how();
    this.trouble.set('');
    if (how === 'round' || how === 'mirror') {
      const ids = this.chosen.selected().map((s) => s.id);
      return this.put(this.now().label, (d) => (how === 'round' ? arrayAround(d, ids, f.ref, this.count()) : mirrored(d, ids, f.ref)));
    }
    const first = this.first();
    if (!first) return this.first.set(f);
    this.first.set(undefined);
    if (first.ref === f.ref) return;
    this.put(this.now().label, (d) => joinFeatures(d, how, first.ref, f.ref, this.goal()));
  }

  protected readonly second = signal<Feature | undefined>(undefined);
  protected readonly hand = inject(FieldInHand);
  protected readonly units = inject(UnitsService).now;
  protected readonly measured = computed<Measured[]>(() => {
    const [a, b] = [this.first(), this.second()];
    if (!this.measuring() || !a) return [];
    return b ? measuredBetween(a, b) : measuredAt(a, this.features());
  });
  private pickMeasured(f: Feature): void {
    const first = this.first();
    if (!first || this.second()) {
      this.first.set(f);
      this.second.set(undefined);
    } else if (first.ref !== f.ref) this.second.set(f);
  }
  /** Whether the field that was entered last takes such a value. */
  protected fits(m: Measured): boolean {
    return this.hand.field()?.unit === m.unit;
  }
  protected putInto(m: Measured): string {
    return $localize`Put ${m.label} into ${this.hand.field()?.label ?? ''}`;
  }

  private put(name: string, change: (d: Design) => Built | NotBuilt): void {
    const r = change(this.doc.design());
    const trouble = r.problem ?? this.doc.edit(name, () => r.design);
    this.trouble.set(trouble ?? '');
    if (trouble || r.problem !== undefined) return;
    const joint = r.joint && this.doc.design().joints.find((j) => j.id === r.joint)?.name;
    this.said.set(joint ? $localize`Done: ${joint}` : $localize`Done`);
  }
}
