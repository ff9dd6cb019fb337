import { type Signal, computed, signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { analyse, insertStage, stageKind, stageValues, withInputShaft } from '@unirota/core';
import { type Design, emptyDesign } from '@unirota/core/document';
import { type Analysed, AnalysisService } from '../state/analysis.service';
import { CommandsService } from '../state/commands.service';
import { DesignService } from '../state/design.service';
import { FindingsService } from '../state/findings.service';
import { MotionService } from '../state/motion.service';
import { RemarksService } from '../state/remarks.service';
import { RoomService } from '../state/room.service';
import { SelectionService } from '../state/selection.service';
import { ViewService } from '../state/view.service';

/** A hand crank, a spur pair of 18 and 54 teeth, and a rack behind it. */
export function crankPairRack(): Design {
  const begun = withInputShaft(emptyDesign('Hatch opener'), { type: 'crank', name: 'Hand crank' });
  const pair = insertStage(begun.design, { kind: 'spur', from: begun.output, values: { ...stageValues(stageKind('spur')!), z1: 18, z2: 54 } })!;
  return insertStage(pair.design, { kind: 'rack', from: pair.output, values: stageValues(stageKind('rack')!) })!.design;
}

/** The services of the workbench with a design open, without server; analysed at once instead of in a worker. */
export function openDesign(design: Design): { doc: DesignService; chosen: SelectionService; motion: MotionService } {
  const of = (d: Signal<Design | undefined>): Signal<Analysed | undefined> =>
    computed(() => {
      const now = d();
      return now && { of: now, is: analyse(now) };
    });
  TestBed.configureTestingModule({
    providers: [
      { provide: AnalysisService, useValue: { of } },
      // Without a server there are no remarks.
      { provide: RemarksService, useValue: { openOf: signal(new Map()), begins: () => undefined } },
      ...[DesignService, SelectionService, ViewService, MotionService, FindingsService, CommandsService, RoomService],
    ],
  });
  const doc = TestBed.inject(DesignService);
  doc.begin('d1');
  doc.show(design, '');
  return { doc, chosen: TestBed.inject(SelectionService), motion: TestBed.inject(MotionService) };
}
