import { Injectable, computed, inject, signal } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { remember, remembered } from '../engine/browser-memory';
import { fromEvent, map, startWith } from 'rxjs';
import type { Step } from '@unirota/core';
import { ViewService } from './view.service';

export type Pane = 'map' | 'deck' | 'sheet';
/** What a person has stated of a pane in one step: whether it is open, and how large, px. */
interface Stated {
  open?: boolean;
  size?: number;
}
type Kept = Partial<Record<Step, Partial<Record<Pane, Stated>>>>;

const KEY = 'unirota.room';
/** Windows lower than this leave the room to the work. */
const LOW = 900;
/** Height of a folded map and deck, px; of an open deck, and width of the sheet, unasked. */
const FOLDED = { map: 54, deck: 48, sheet: 0 } as const;
const DECK = 116;
const SHEET = 312;
const GUIDE = 380;
const LEAST = { map: 90, deck: 100, sheet: 240 } as const;

const read = (): Kept => {
  try {
    return JSON.parse(remembered(KEY) ?? '{}') as Kept;
  } catch {
    return {};
  }
};

/** How the panes share the window: each step remembers what was folded and how large the rest was drawn. */
@Injectable()
export class RoomService {
  private readonly view = inject(ViewService);
  private readonly kept = signal<Kept>(read());
  private readonly window = toSignal(
    fromEvent(window, 'resize').pipe(
      startWith(0),
      map(() => innerHeight),
    ),
    { initialValue: innerHeight },
  );
  /** The layout has the whole window. Not remembered. */
  readonly whole = signal(false);
  /** The guide stands above the data sheet. Not remembered. */
  readonly guide = signal(false);
  /** The remarks stand in place of the data sheet. Not remembered. */
  readonly remarks = signal(false);
  /** Height that the map would take, px. */
  readonly natural = signal(200);

  private stated(pane: Pane): Stated {
    return this.kept()[this.view.step()]?.[pane] ?? {};
  }
  private readonly low = computed(() => this.window() < LOW);
  readonly mapOpen = computed(() => this.stated('map').open ?? !this.low());
  readonly deckOpen = computed(() => this.stated('deck').open ?? !this.low());
  readonly sheetOpen = computed(() => this.stated('sheet').open ?? true);
  readonly map = computed(() =>
    this.mapOpen()
      ? Math.round(Math.max(LEAST.map, Math.min(this.stated('map').size ?? Math.min(this.natural(), this.window() / 3), 0.6 * this.window())))
      : FOLDED.map,
  );
  readonly deck = computed(() => (this.deckOpen() ? Math.max(LEAST.deck, this.stated('deck').size ?? DECK) : FOLDED.deck));
  readonly sheet = computed(() =>
    this.besideOpen() ? Math.max(this.guide() || this.remarks() ? GUIDE : LEAST.sheet, this.stated('sheet').size ?? SHEET) : FOLDED.sheet,
  );
  /** Something stands beside the work: the data sheet, the guide or the remarks. */
  readonly besideOpen = computed(() => this.sheetOpen() || this.guide() || this.remarks());

  fold(pane: Pane): void {
    const open = { map: this.mapOpen, deck: this.deckOpen, sheet: this.sheetOpen }[pane]();
    this.state(pane, { open: !open });
  }
  /** Unfolds the data sheet, for whoever is to see something in it. */
  showSheet(): void {
    if (!this.sheetOpen()) this.fold('sheet');
  }
  /** A border was drawn: the pane has this size now. Drawn nearly shut it is folded. */
  draw(pane: Pane, size: number): void {
    this.state(pane, size < (FOLDED[pane] + LEAST[pane]) / 2 ? { open: false } : { open: true, size: Math.round(size) });
  }
  private state(pane: Pane, change: Stated): void {
    const step = this.view.step();
    this.kept.update((k) => ({ ...k, [step]: { ...k[step], [pane]: { ...k[step]?.[pane], ...change } } }));
    remember(KEY, JSON.stringify(this.kept()));
  }
}
