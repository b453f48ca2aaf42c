/** What every worker of ours says once it can hear, when it breaks, or in answer to a ticket. */
export type Told<Reply> = { kind: 'ready' } | { kind: 'broken'; message: string } | (Reply & { ticket?: number })

/** A worker that is asked by tickets: each question gets one answer, in any order. */
export class TicketedWorker<Question, Reply> {
  private readonly waiting = new Map<number, (reply: Reply) => void>()
  private ticket = 0
  /** The shaper starts up before the worker listens, and what is said until then is lost: it is kept here. */
  private early: unknown[] | undefined = []
  onBroken: (message: string) => void = () => {}

  constructor(private readonly worker: Worker) {
    worker.onmessage = (event: MessageEvent<Told<Reply>>) => {
      const reply = event.data as { kind?: string; message?: string; ticket?: number }
      if (reply.kind === 'ready') {
        const early = this.early ?? []
        this.early = undefined
        for (const question of early) this.worker.postMessage(question)
      } else if (reply.kind === 'broken') this.onBroken(reply.message ?? '')
      else if (reply.ticket !== undefined) {
        this.waiting.get(reply.ticket)?.(event.data as Reply)
        this.waiting.delete(reply.ticket)
      } else this.said(event.data as Reply)
    }
  }

  /** Hears what the worker says without having been asked. */
  protected said(_reply: Reply): void {}

  /** Says something that needs no answer. */
  tell(question: Question): void {
    if (this.early) this.early.push(question)
    else this.worker.postMessage(question)
  }

  ask(question: Omit<Question, 'ticket'>): Promise<Reply> {
    const ticket = ++this.ticket
    return new Promise((resolve) => {
      this.waiting.set(ticket, resolve)
      this.tell({ ...question, ticket } as unknown as Question)
    })
  }

  close(): void {
    this.worker.terminate()
  }
}
