import { ChangeDetectionStrategy, Component, OnInit, inject, signal } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { ApiService } from '../../state/api.service';

/** Takes up a shared design by its link, and opens it. */
@Component({
  selector: 'uni-take-link',
  imports: [RouterLink],
  template: `
    @if (trouble(); as t) {
      <p class="trouble" role="alert">{{ t }}</p>
      <p><a i18n routerLink="/">All designs</a></p>
    } @else {
      <p i18n role="status">Opening the shared design …</p>
    }
  `,
  styles: `
    :host {
      display: block;
      max-width: 460px;
      margin: 12vh auto 0;
      padding: 0 20px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class TakeLink implements OnInit {
  private readonly api = inject(ApiService);
  private readonly router = inject(Router);
  protected readonly trouble = signal('');

  ngOnInit(): void {
    const token = location.hash.slice(1);
    if (!/^[A-Za-z0-9_-]{43}$/.test(token)) {
      return this.trouble.set($localize`This link is not complete: copy the whole of it, with what stands behind the #.`);
    }
    this.api.takeLink(token).subscribe({
      next: ({ id }) => void this.router.navigate(['/design', id], { replaceUrl: true }),
      error: (e: Error) => this.trouble.set(e.message),
    });
  }
}
