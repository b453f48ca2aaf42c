import { followSeconds } from '@hoja/core/limits'
import { Refusal } from '@hoja/core/refusal'
import { array, lazy, number, object, string } from 'yup'

/** Where links may lead. */
export interface FeedSettings {
  /** Folders by the names that people choose them by. */
  roots: Record<string, string>
  /** Hosts, with their port if it matters; of this machine itself only with it. */
  hosts: readonly string[]
  /** Of this server, whose stand-ins may always be followed. */
  ownPort?: number
}

const optionsSchema = object().unknown()

export const linkSchema = lazy((value: { kind?: string } | undefined) =>
  value?.kind === 'feed'
    ? object({
        kind: string().oneOf(['feed']).required(),
        url: string().max(2000).required(),
        every: number().min(followSeconds.least).max(followSeconds.most).required(),
        options: optionsSchema,
      }).required()
    : object({
        kind: string().oneOf(['file']).required(),
        root: string().max(200).required(),
        path: string().max(1000).required(),
        options: optionsSchema,
      }).required(),
)

export const settingsOf = (roots: readonly string[], hosts: readonly string[]): FeedSettings => ({
  roots: Object.fromEntries(
    array(string().required())
      .required()
      .validateSync(roots)
      .map((root) => {
        const [, name, folder] = root.match(/^([^=/\\]+)=(.+)$/) ?? []
        if (!name || !folder) throw new Refusal('call', `"${root}" is no root; write it as NAME=FOLDER.`)
        return [name, folder]
      }),
  ),
  hosts,
})

const loopback = /^(localhost|127(\.\d{1,3}){3}|\[::1\])$/

/** Other programs of this machine trust whoever asks from it: each of them has to be listed by its port. */
function isListed({ hosts, ownPort }: FeedSettings, url: URL): boolean {
  const port = url.port || (url.protocol === 'https:' ? '443' : '80')
  if (loopback.test(url.hostname)) return port === String(ownPort) || hosts.includes(`${url.hostname}:${port}`)
  return hosts.includes(url.hostname) || hosts.includes(`${url.hostname}:${port}`)
}

/** An address that a feed may have. @throws Refusal */
export function feedUrl(settings: FeedSettings, text: string): URL {
  const url = URL.canParse(text) ? new URL(text) : undefined
  if (!url || !/^https?:$/.test(url.protocol))
    throw new Refusal('feed.url', `"${text.slice(0, 200)}" is no address; write it as http://host/path.`)
  if (url.username || url.password)
    throw new Refusal('feed.url', 'The address holds a name or a password; leave them out.')
  if (!isListed(settings, url))
    throw new Refusal(
      'feed.host',
      `"${url.host}" is not on the list of hosts that may be followed; start Hoja with --feed-host ${url.host} to allow it.`,
    )
  return url
}
