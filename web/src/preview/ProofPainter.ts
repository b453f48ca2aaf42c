import type { Finding } from '@hoja/core/data'
import type { Template } from '@hoja/core/template'
import type { AskedProof, DrawnProof, LookedProofs, ProofQuestion, ProofReply } from './proofWorker.ts'
import { TicketedWorker } from './TicketedWorker.ts'
import { measured } from './timed.ts'

/** What is heard of a proof: its picture and what the checks say; what they say after a look at it; or why there is none. */
export type Heard = DrawnProof | { looked: Finding[] } | { broken: string }

/** The worker's side of it, which also says what it was not asked for: what it looked at. */
class ProofWorker extends TicketedWorker<ProofQuestion, ProofReply> {
  onLooked: (looked: LookedProofs) => void = () => {}

  protected override said(reply: ProofReply | LookedProofs): void {
    if ('kind' in reply) this.onLooked(reply)
  }
}

/**
 * Draws and checks fillings of a drawing beside the page, so that a drag does not wait for them. One question is under way
 * at a time: what changed meanwhile is asked for when its answer is there, in its latest state.
 */
export class ProofPainter {
  private readonly worker = new ProofWorker(
    new Worker(new URL('./proofWorker.ts', import.meta.url), { type: 'module' }),
  )
  private readonly wanted = new Map<string, { proof: AskedProof; hear: (heard: Heard) => void }>()
  /** Those whose picture is not of the latest state. */
  private readonly stale = new Set<string>()
  private template: Template | undefined
  /** The drawing that the worker has. */
  private told: Template | undefined
  private isBusy = false
  /** How many drawings the worker was told. */
  private drawings = 0
  /** When the state was told that is asked for. */
  private since = 0

  constructor() {
    // What was looked at may be another by now.
    this.worker.onLooked = ({ drawing, proofs }) => {
      if (drawing !== this.drawings) return
      for (const { key, findings } of proofs) if (!this.stale.has(key)) this.wanted.get(key)?.hear({ looked: findings })
    }
    this.worker.onBroken = (broken) => {
      this.isBusy = false
      this.told = undefined
      for (const { hear } of this.wanted.values()) hear({ broken })
    }
  }

  /** Another state of the drawing. */
  show(template: Template): void {
    if (template === this.template) return
    this.template = template
    this.since = performance.now()
    for (const key of this.wanted.keys()) this.stale.add(key)
    this.ask()
  }

  /** Keeps a proof drawn. @returns what ends that */
  keep(proof: AskedProof, hear: (heard: Heard) => void): () => void {
    this.wanted.set(proof.key, { proof, hear })
    this.stale.add(proof.key)
    // Those that come into sight together are asked for together.
    queueMicrotask(() => this.ask())
    return () => {
      this.wanted.delete(proof.key)
      this.stale.delete(proof.key)
    }
  }

  close(): void {
    this.worker.close()
  }

  private ask(): void {
    if (this.isBusy || this.stale.size === 0 || !this.template) return
    this.isBusy = true
    const proofs = [...this.stale].map((key) => this.wanted.get(key)!.proof)
    this.stale.clear()
    const template = this.told === this.template ? undefined : this.template
    this.told = this.template
    if (template) this.drawings++
    const start = this.since
    void this.worker.ask({ template, proofs }).then((reply) => {
      for (const drawn of reply.proofs) {
        this.wanted.get(drawn.key)?.hear(drawn)
      }
      measured('hoja proofs shown', start)
      this.isBusy = false
      this.ask()
    })
  }
}
