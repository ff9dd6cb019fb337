import { Injectable, signal } from '@angular/core';

/** A field that a measured value can be put into. */
export interface OpenField {
  readonly label: string;
  /** The unit in which the document keeps it. */
  readonly unit: string;
  put(value: number): void;
}

/** The field that a person was in last: where a measured value goes. */
@Injectable({ providedIn: 'root' })
export class FieldInHand {
  readonly field = signal<OpenField | undefined>(undefined);

  leave(field: OpenField | undefined): void {
    if (field && this.field() === field) this.field.set(undefined);
  }
}
