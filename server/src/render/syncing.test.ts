import { appendFileSync, existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { setTimeout } from 'node:timers/promises'
import { temporaryFolder } from '../testing/running.ts'
import { whileSyncing } from './syncing.ts'

const folder = temporaryFolder()
afterAll(() => rmSync(folder, { recursive: true, force: true }))

test('files that come late, grow, and are written one after the other are all there in the end', async () => {
  const [one, other] = [join(folder, 'one'), join(folder, 'other')]
  await whileSyncing([one, other], async () => {
    await setTimeout(60)
    for (let i = 0; i < 4; i++) {
      appendFileSync(one, new Uint8Array(5_000_000).fill(i))
      await setTimeout(40)
    }
    writeFileSync(other, 'key')
  })
  expect(readFileSync(one)).toHaveLength(20_000_000)
  expect(readFileSync(other, 'utf8')).toBe('key')
})

test('what goes wrong in writing is what is told, and nothing is waited for then', async () => {
  const file = join(folder, 'never')
  const failed = whileSyncing([file], async () => {
    await setTimeout(40)
    throw new Error('The encoder failed.')
  })
  await expect(failed).rejects.toThrow('The encoder failed.')
  expect(existsSync(file)).toBe(false)
})

test('a file that is said to be written and is not there is no success', async () => {
  await expect(whileSyncing([join(folder, 'none')], async () => {})).rejects.toThrow('ENOENT')
})
