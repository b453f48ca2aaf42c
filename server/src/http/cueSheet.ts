import { localMoment, stateOf } from '@hoja/core/data'
import {
  clipMatch,
  clipRow,
  endOf,
  offTracks,
  type Programme,
  secondsIn,
  timecodeIn,
  titlesOf,
  wordsOf,
} from '@hoja/core/programme'
import { demand } from '@hoja/core/refusal'
import type { Source } from '../render/scenes.ts'
import { cueWords, type SignOffSheet } from '../signoff/sheet.ts'
import type { Context } from './context.ts'

/** More titles than anybody goes through on paper. */
const most = 2500
/** Titles whose pictures one task draws. */
const batch = 25

/** Where a programme's designs are found by whoever draws them. */
export function designSources({ store }: Pick<Context, 'store'>, programme: Programme): Record<string, Source> {
  const { templates, files } = store
  return Object.fromEntries(
    Object.keys(programme.designs).map((design) => [
      design,
      { kind: 'stored' as const, document: templates.version(Number(design)).document, files: files.folder },
    ]),
  )
}

/**
 * The titles of a programme on paper: when each is, what it says, and what was found.
 * @throws Refusal for one without a title
 */
export async function cueSheet(context: Pick<Context, 'store' | 'jobs'>, programme: Programme): Promise<SignOffSheet> {
  const { store, jobs } = context
  const { templates } = store
  const off = offTracks(programme)
  const titles = titlesOf(programme).filter(({ clip }) => !off.has(clip.track))
  demand(titles.length > 0, 'programme.empty', 'There is no title in the programme yet; place one first.')
  demand(titles.length <= most, 'cues.many', `A cue sheet holds ${most} titles; switch some tracks off first.`)
  const sources = designSources(context, programme)
  const now = localMoment(new Date())
  const known = store.sheets.knownTexts()
  const templateOf = (design: string) => templates.published(templates.version(Number(design)))
  const { folder: files } = store.files
  const findings = await jobs.run<'checkProgramme'>({ kind: 'checkProgramme', programme, sources, files, known, now })
  const drawn = await Promise.all(
    Array.from({ length: Math.ceil(titles.length / batch) }, (_, i) => {
      const rows = titles.slice(i * batch, (i + 1) * batch).map(({ clip }) => ({
        source: sources[clip.design]!,
        match: clipMatch(templateOf(clip.design)),
        row: clipRow(programme, clip),
      }))
      return jobs.run<'rowPictures'>({ kind: 'rowPictures', rows })
    }),
  )
  const pictures = drawn.flat()
  const when = new Date().toLocaleString('en-GB', { dateStyle: 'long', timeStyle: 'short' })
  return {
    title: programme.name,
    about: `${titles.length} ${titles.length === 1 ? 'title' : 'titles'}; made ${when}`,
    words: cueWords,
    rows: titles.map(({ id, clip }, i) => {
      const found = findings.get(id) ?? []
      const { name } = programme.designs[clip.design]!
      const seconds = secondsIn(programme, clip.frames).toFixed(1)
      return {
        n: i + 1,
        state: stateOf(found),
        texts: [
          {
            name: `${name}, ${seconds} s`,
            text: `${timecodeIn(programme, clip.at)}  ${timecodeIn(programme, endOf(clip))}`,
          },
          { name: 'says', text: wordsOf(programme, clip, templateOf(clip.design)).join('\n') },
        ],
        findings: found.map(({ message }) => message),
        note: '',
        picture: pictures[i]!,
      }
    }),
  }
}
