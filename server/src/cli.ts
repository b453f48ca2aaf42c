import { formatIds } from '@hoja/core/output'
import { Refusal } from '@hoja/core/refusal'
import { Command, CommanderError } from 'commander'

/** What a command takes is read when it is called: the server alone is a second of reading that no other one needs. */
const inspecting = () => import('./cli/inspect.ts')
const packing = () => import('./cli/packages.ts')
const backing = () => import('./cli/backups.ts')
const titles = () => import('./cli/render.ts')
const started = async (options: { workers?: number }) => (await import('./cli/crew.ts')).startedCrew(options)

/** Exit codes: 0 done; 1 done, but some rows were stopped by checks; 2 bad call or bad input, one line on stderr. */
async function main(): Promise<number> {
  const program = new Command('hoja')
    .description('Titles that resize themselves, from a template and a sheet of names.')
    .exitOverride()
    .configureOutput({ writeErr: () => {} })
    .showHelpAfterError(false)
  let code = 0
  const whole = (text: string) => {
    if (!/^\d+$/.test(text)) throw new Refusal('call', `"${text}" is not a whole number.`)
    return Number(text)
  }

  const several = (text: string, before: string[]) => [...before, text]

  program
    .command('serve')
    .description('start the server')
    .option('--port <n>', 'port on 127.0.0.1', whole, 4173)
    .option('--data <dir>', 'folder for the database and files', '.hoja-data')
    .option('--root <name=folder>', 'a folder whose files sheets may follow; may be given again', several, [])
    .option(
      '--keep <name=folder>',
      'a folder in which outputs may keep others current; may be given again',
      several,
      [],
    )
    .option(
      '--feed-host <host>',
      'a host whose feeds sheets may follow, of this machine with its port; may be given again',
      several,
      [],
    )
    .option('--backup <dir>', 'where backups go that are made from the Shelf; beside the data unless told')
    .action(async ({ port, data, root, feedHost, keep, backup }) => {
      const [{ serve }, { settingsOf }] = await Promise.all([import('./serve.ts'), import('./feeds/link.ts')])
      const running = await serve({
        port,
        data,
        feeds: settingsOf(root, feedHost),
        keep: settingsOf(keep, []).roots,
        backup,
      })
      // A defect costs what it happened to, which is told where it is asked for; everybody else goes on.
      for (const event of ['uncaughtException', 'unhandledRejection'])
        process.on(event, (error: unknown) => {
          process.stderr.write(`hoja: a defect: ${(error as Error)?.stack ?? String(error)}\n`)
        })
      const { migrated } = running.store
      if (migrated)
        console.log(
          `The database was brought from ${migrated.from} to ${migrated.to}; as it was it lies in ${migrated.backup}.`,
        )
      console.log(`Hoja is at ${running.address}`)
      const end = () => void running.close().then(() => process.exit(0))
      process.once('SIGINT', end)
      process.once('SIGTERM', end)
      await new Promise(() => {})
    })
  /** Which rows of a data file. */
  const reading = (command: Command) =>
    command
      .option('--sheet <name>', 'worksheet of a workbook')
      .option('--path <path>', 'where the rows are in a JSON file, by RFC 9535, as $.talks')
      .option('--known <file>', 'a data file that knows how names are spelled')
      .option('--together', 'all rows are one title, for templates that go through lists; else found out')
      .option('--apart', 'each row is a title, for such templates too')
      .option('--now <moment>', 'what now is in titles, so that they can be made again, as 2026-11-26T18:30')
  /** For which frame, and how long. */
  const framed = (command: Command) =>
    command
      .option('--frames <length>', 'length of every title: frames as 125, seconds as 5s, or a timecode')
      .option('--shape <shapes>', 'shapes of the frame, as 9:16 or 16:9,9:16, or all')
      .option('--size <size>', 'frame size, as 3840x2160 or 1080x1920')
      .option('--keep-sizes', 'at another size, keep sizes and gaps as many px as they were drawn with')
      .option('--rate <rate>', 'frames per second, as 25, 29.97 or 30000/1001')
  reading(program.command('measure <package> [data]'))
    .description('where every part rests')
    .option('--shape <shape>', 'shape of the frame, as 9:16')
    .option('--row <n>', 'row of the data, from 1', whole)
    .option('--json', 'as JSON lines')
    .action(async (path, data, options) => {
      await (await inspecting()).measure(path, data, options)
    })
  framed(reading(program.command('check <package> <data>')))
    .description('every finding about every row')
    .option('--json', 'as JSON')
    .action(async (path, data, options) => {
      code = await (await inspecting()).check(path, data, options)
    })
  reading(program.command('frame <package> [data]'))
    .description('one frame as PNG or SVG')
    .option('--shape <shape>', 'shape of the frame, as 9:16')
    .option('--row <n>', 'row of the data, from 1', whole)
    .requiredOption('--at <frame>', 'frame, from 0', whole)
    .requiredOption('--out <file>', 'FILE.png or FILE.svg')
    .action(async (path, data, options) => {
      await (await inspecting()).frame(path, data, options)
    })
  const rendering = (command: Command) =>
    framed(command)
      .requiredOption('--out <dir>', 'folder to write to; what lies there already, unchanged, stays')
      .option('--alpha <alpha>', 'straight or premultiplied, where the format takes both')
      .option('--handles <frames>', 'first and last frame held, as 25+25 or 1s+1s')
      .option('--timecode <timecode>', "of the file's first frame, as 10:00:00:00")
      .option('--superseded', 'move titles that are no longer asked for to _superseded/ instead of removing them')
      .option('--workers <n>', 'renderers that work side by side', whole)
      .option('--json', 'progress as JSON lines, as always where there is no terminal')
  rendering(reading(program.command('render <package> <data>').description('a folder of finished titles')))
    .option('--format <format>', formatIds.join(', '), 'png')
    .option('--rows <rows>', '1-50 or 3,7,9')
    .option('--name <pattern>', 'file names, as {row:000}_{name}')
    .option('--folders <by>', 'a folder for each sheet or template')
    .option('--under <what>', 'what lies under a format without alpha: #rrggbb, a picture, or footage')
    .option('--fields <first>', 'frames of two fields, drawn at twice the rate: top or bottom first')
    .option('--pieces', 'In, Hold and Out as files of their own')
    .option('--marks', 'mark In, Hold and Out: as chapters, and in an OTIO file beside')
    .option('--at <frame>', 'of a still: a frame from 0, a time, or poster')
    .option('--into <row>', 'titles change into the words of this row while they are up', whole)
    .option('--into-at <length>', 'when they do: frames of the title as 60, seconds as 2.4s, or a timecode')
    .option('--conform', 'lists that put the files in their places in an edit: OTIO and EDL')
    .option('--contact-sheet', 'one picture of all titles')
    .option('--silent', "without the template's sounds")
    .option('--without-stops', 'leave out rows that have a stop instead of holding them')
    .option('--watch', 'render rows again as the data changes')
    .action(async (path, data, options) => {
      const crew = await started(options)
      code = await (await titles()).render(path, data, options, crew)
    })
  rendering(
    program.command('flatten <package>').description('locked parts as clips, for systems that draw their own text'),
  )
    .option('--format <format>', formatIds.join(', '), 'mov')
    .option('--apart', 'every locked part by itself; else neighbours become one clip')
    .action(async (path, options) => {
      const crew = await started(options)
      code = await (await titles()).flatten(path, options, crew)
    })
  program
    .command('pack <dir> <file>')
    .description('make a .hoja file of an unpacked template')
    .action(async (folder, file) => (await packing()).pack(folder, file))
  program
    .command('unpack <file> <dir>')
    .description('unpack a .hoja file')
    .action(async (file, folder) => (await packing()).unpack(file, folder))
  program
    .command('backup <dir>')
    .description('back up the data, while it is in use; again into the same folder only what is new')
    .option('--data <dir>', 'folder of the database and files', '.hoja-data')
    .action(async (folder, options) => (await backing()).backup(folder, options))
  program
    .command('restore <dir>')
    .description('bring a backup back into a folder that holds no data')
    .option('--data <dir>', 'folder for the database and files', '.hoja-data')
    .action(async (folder, options) => (await backing()).restore(folder, options))
  program
    .command('starter <package>')
    .description('a data file with every field, its default and its note')
    .requiredOption('--out <file>', 'FILE.csv, FILE.xlsx or FILE.json')
    .option('--formulas-as-they-are', 'in a csv, do not guard cells that begin like a formula')
    .action(async (path, options) => (await packing()).starter(path, options))

  try {
    await program.parseAsync()
    return code
  } catch (error) {
    if (error instanceof CommanderError && error.exitCode === 0) return 0
    if (error instanceof CommanderError && error.code === 'commander.help') return 2
    const message =
      error instanceof Refusal
        ? error.message
        : error instanceof CommanderError
          ? error.message.replace(/^error: /, '')
          : systemMessage(error)
    if (message === undefined) throw error
    process.stderr.write(`hoja: ${message}\n`)
    return 2
  }
}

/** A file that cannot be read or written is bad input too. */
function systemMessage(error: unknown): string | undefined {
  const { code, path } = error as NodeJS.ErrnoException
  const reasons: Record<string, string> = {
    ENOENT: 'is not there',
    EACCES: 'may not be read or written',
    EISDIR: 'is a folder',
    ENOTDIR: 'is not a folder',
    ENOSPC: 'does not fit: the disk is full',
    EEXIST: 'is there already',
  }
  return code && reasons[code] ? `"${path ?? 'a file'}" ${reasons[code]}.` : undefined
}

process.exitCode = await main()
// Processes that wait for more work must not keep a finished command alive.
process.exit()
