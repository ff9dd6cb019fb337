import { ErrorHandler, Injectable, signal } from '@angular/core';

/** Unexpected errors are said on the page, once, and go to the console for whoever looks. */
export const unexpected = signal<string | undefined>(undefined);

@Injectable()
export class PageErrorHandler implements ErrorHandler {
  handleError(error: unknown): void {
    console.error(error);
    unexpected.set($localize`Something unexpected went wrong in the page. Your work is kept; reload if it does not go on.`);
  }
}
