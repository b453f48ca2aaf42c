/**
 * The one error shape of Hoja. A refusal is bad input described in one sentence that says what is wrong, where, and what
 * to do; whoever throws it has changed nothing. Anything else that is thrown is a defect of ours.
 */
export class Refusal extends Error {
  override readonly name = 'Refusal'
  constructor(
    /** Stable machine word for the kind of refusal, for example `csv.empty`. */
    readonly code: string,
    /** One sentence for a person. */
    message: string,
    /** HTTP status a server answers with: 422 unless another says more; from 500 on it is the machine's, not the input's. */
    readonly status: 400 | 403 | 404 | 409 | 413 | 415 | 422 | 503 | 507 = 422,
    /** Ids of the parts it is about, so that they can be shown. */
    readonly about: readonly string[] = [],
  ) {
    super(oneLine(message))
  }
}

const longest = 500

/** Names and values quoted from hostile input may hold line ends and no end: the sentence stays one, and readable. */
function oneLine(message: string): string {
  const line = message.replace(/[\s\u0000-\u001f\u007f-\u009f\u2028\u2029\ufffd]+/g, ' ').trim()
  return line.length > longest ? `${line.slice(0, longest)} …` : line
}

/** Throws a refusal unless `condition` holds. */
export function demand(condition: unknown, code: string, message: string): asserts condition {
  if (!condition) throw new Refusal(code, message)
}
