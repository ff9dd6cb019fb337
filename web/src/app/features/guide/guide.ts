import { ChangeDetectionStrategy, Component, ElementRef, afterRenderEffect, computed, inject, input, output, signal } from '@angular/core';
import { MatButton, MatIconButton } from '@angular/material/button';
import { MatExpansionPanel, MatExpansionPanelHeader, MatExpansionPanelTitle } from '@angular/material/expansion';
import { httpResource } from '@angular/common/http';
import type { Step } from '@unirota/core';
import { Icon } from '../../ui/icon';
import { TextField } from '../../ui/text-field';

interface Section {
  readonly title: string;
  readonly steps: readonly string[];
  readonly html: string;
}

const plain = (html: string): string => html.replace(/<[^>]*>/g, ' ');

/** The guide inside the page: its sections, that of the present step first, found by what is typed. */
@Component({
  selector: 'uni-guide',
  imports: [Icon, MatExpansionPanel, MatExpansionPanelHeader, MatExpansionPanelTitle, MatButton, MatIconButton, TextField],
  template: `
    <header>
      <h2 i18n>Guide</h2>
      <uni-text-field
        i18n-label
        i18n-placeholder
        label="Search the guide"
        placeholder="Search the guide …"
        [value]="sought()"
        (typed)="sought.set($event)"
      />
      <button i18n-aria-label matIconButton type="button" class="plain" aria-label="Close the guide" (click)="closed.emit()">
        <uni-icon name="close" />
      </button>
    </header>
    @if (resource.error()) {
      <p i18n class="trouble" role="alert">
        The guide cannot be fetched now. <button matButton type="button" (click)="resource.reload()">Try again</button>
      </p>
    }
    @for (s of shown(); track s.title) {
      <mat-expansion-panel [expanded]="s.open">
        <mat-expansion-panel-header
          ><mat-panel-title>{{ s.title }}</mat-panel-title></mat-expansion-panel-header
        >
        <div class="text" [innerHTML]="s.html"></div>
      </mat-expansion-panel>
    } @empty {
      @if (resource.hasValue()) {
        <p i18n class="soft">Nothing in the guide has these words.</p>
      }
    }
  `,
  styleUrl: './guide.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Guide {
  readonly step = input.required<Step>();
  readonly closed = output();
  protected readonly resource = httpResource<readonly Section[]>(() => 'guide/guide.json');
  protected readonly sought = signal('');
  protected readonly shown = computed(() => {
    const all = this.resource.hasValue() ? this.resource.value() : [];
    const words = this.sought().toLowerCase().split(/\s+/).filter(Boolean);
    const found = all.filter((s) => {
      const text = `${s.title} ${plain(s.html)}`.toLowerCase();
      return words.every((w) => text.includes(w));
    });
    const here = found.find((s) => s.steps.includes(this.step()));
    return found.map((s) => ({ ...s, open: words.length ? found.length <= 3 || s === found[0] : s === here }));
  });

  constructor() {
    const host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
    // At the place that fits the step.
    afterRenderEffect(() => {
      this.shown();
      host.querySelector('mat-expansion-panel.mat-expanded')?.scrollIntoView({ block: 'start' });
    });
  }
}
