/** So many of something, as a person says it: `1 row`, `1,204 rows`. @param many where it is not the one with an s */
export function counted(n: number, one: string, many = `${one}s`): string {
  return `${n.toLocaleString('en')} ${n === 1 ? one : many}`
}
