import { Injectable, inject } from '@angular/core';
import { AnalysisService } from './analysis.service';
import { DesignService } from './design.service';
import { downloadFile } from './downloads';

/** What a designer hands on: made in a worker, given as a file. */
@Injectable()
export class PapersService {
  private readonly doc = inject(DesignService);
  private readonly analysis = inject(AnalysisService);

  /** All tables of the design as one file. */
  async tables(): Promise<void> {
    const d = this.doc.shownDesign();
    try {
      downloadFile(new Blob([await this.analysis.tables(d)]), `${d.name} tables`, 'xlsx');
    } catch (e) {
      this.doc.said.set($localize`The tables could not be written: ${(e as Error).message}`);
    }
  }
}
