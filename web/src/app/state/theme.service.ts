import { Injectable, signal } from '@angular/core';
import { remember, remembered } from '../engine/browser-memory';

const KEY = 'unirota.theme';

/** Light or dark: the system's choice until a person chooses. */
@Injectable({ providedIn: 'root' })
export class ThemeService {
  readonly dark = signal(this.initial());

  constructor() {
    this.apply();
  }

  toggle(): void {
    this.dark.update((d) => !d);
    remember(KEY, this.dark() ? 'dark' : 'light');
    this.apply();
  }

  private initial(): boolean {
    const kept = remembered(KEY);
    if (kept) return kept === 'dark';
    return matchMedia('(prefers-color-scheme: dark)').matches;
  }

  private apply(): void {
    document.documentElement.dataset['theme'] = this.dark() ? 'dark' : 'light';
  }
}
