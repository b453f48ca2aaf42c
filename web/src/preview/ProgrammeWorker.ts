import type { ProgrammeQuestion, ProgrammeReply } from './programmeWork.ts'
import { TicketedWorker } from './TicketedWorker.ts'

/** A worker that holds a programme and looks at its titles: each by itself, and all of them along time. */
export class ProgrammeWorker extends TicketedWorker<ProgrammeQuestion, ProgrammeReply> {
  constructor(private readonly onFound: (found: ProgrammeReply) => void) {
    super(new Worker(new URL('./programmeWork.ts', import.meta.url), { type: 'module' }))
  }

  protected override said(found: ProgrammeReply): void {
    this.onFound(found)
  }
}
