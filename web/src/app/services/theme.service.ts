import { Injectable, signal } from '@angular/core';

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
    try {
      localStorage.setItem(KEY, this.dark() ? 'dark' : 'light');
    } catch {
      // Without storage the choice lasts as long as the page.
    }
    this.apply();
  }

  private initial(): boolean {
    try {
      const kept = localStorage.getItem(KEY);
      if (kept) return kept === 'dark';
    } catch {
      // As above.
    }
    return matchMedia('(prefers-color-scheme: dark)').matches;
  }

  private apply(): void {
    document.documentElement.dataset['theme'] = this.dark() ? 'dark' : 'light';
  }
}
