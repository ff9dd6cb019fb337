import { Injectable, signal } from '@angular/core';

/** Files with parts that were opened or dropped before their design is there: the workbench takes them in when it is. */
@Injectable({ providedIn: 'root' })
export class IncomingFiles {
  readonly files = signal<readonly File[]>([]);

  take(): readonly File[] {
    const files = this.files();
    this.files.set([]);
    return files;
  }
}
