import { emptyProgramme, endOf, type Programme, withTrack } from '@hoja/core/programme'
import fc from 'fast-check'
import { footageSegments } from './review.ts'

const bare = emptyProgramme('P', { width: 64, height: 36, rate: { num: 25, den: 1 } }, { at: 0, drop: false })

test('of footage on any tracks every frame of a review shows the uppermost one that is on', () => {
  const two = withTrack(bare, 'footage')
  const tracks = two.tracks.filter(({ kind }) => kind === 'footage').map(({ id }) => id)
  const placed = fc.array(fc.record({ gap: fc.nat(30), frames: fc.integer({ min: 1, max: 60 }) }), { maxLength: 8 })
  fc.assert(
    fc.property(fc.tuple(placed, placed), fc.boolean(), fc.integer({ min: 1, max: 600 }), (lists, off, total) => {
      const clips: Programme['clips'] = {}
      lists.forEach((list, t) => {
        let at = 0
        list.forEach(({ gap, frames }, i) => {
          at += gap
          clips[`c${t}_${i}`] = { kind: 'footage', track: tracks[t]!, at, frames, medium: 'm1', from: 0 }
          at += frames
        })
      })
      const media = { m1: { kind: 'shot' as const, name: 'Shot', frames: 10_000, scene: 0 } }
      const own = two.tracks.map((track) => (off && track.id === tracks[0] ? { ...track, off: true } : track))
      const programme: Programme = { ...two, clips, media, tracks: own }
      const segments = footageSegments(programme, total)
      const shown = segments.flatMap(({ frames, clip }) => Array.from({ length: frames }, () => clip))
      expect(shown).toHaveLength(total)
      for (let frame = 0; frame < total; frame++) {
        const seen = tracks.flatMap((track, t) => {
          const clip = Object.values(clips).find((one) => one.track === track && one.at <= frame && frame < endOf(one))
          return clip && !(off && t === 0) ? [clip] : []
        })
        expect(shown[frame]).toBe(seen[0])
      }
      let at = 0
      for (const { from, frames } of segments) {
        expect(from).toBe(at)
        at += frames
      }
    }),
  )
})
