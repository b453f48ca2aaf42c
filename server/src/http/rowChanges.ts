import { array, boolean, lazy, number, object, string } from 'yup'

const texts = lazy((value) =>
  object(Object.fromEntries(Object.keys(value ?? {}).map((key) => [key, string().max(20_000).defined()]))).required(),
)

/** A row as it comes over the network: what its data says, and what a person set beside it. */
const rowSchema = lazy((value: Record<string, unknown> | undefined) =>
  object({
    cells: texts,
    ...(value?.own === undefined ? {} : { own: texts }),
    ...(value?.note === undefined ? {} : { note: string().max(2000).defined() }),
    ...(value?.off === undefined ? {} : { off: boolean().oneOf([true]).required() }),
    ...(value?.frames === undefined ? {} : { frames: number().integer().min(1).max(1_000_000).required() }),
    ...(value?.version === undefined ? {} : { version: number().integer().min(1).required() }),
  }).required(),
)

/** Edits of a sheet's rows. */
export const changesSchema = array(
  object({
    at: number().integer().required(),
    remove: number().integer().min(0).required(),
    rows: array(rowSchema).max(50_000).required(),
  }).required(),
)
  .min(1)
  .max(50_000)
  .required()
