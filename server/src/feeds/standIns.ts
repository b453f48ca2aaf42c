/** How a stand-in may be told to behave. */
export const behaviours = ['well', 'fails', 'stalls', 'lies', 'breaks off'] as const
export type Behaviour = (typeof behaviours)[number]

/** Stations of the tide gauge: invented, as is their sea. Heights in m about a mean, hours after high water. */
const stations = [
  { station: 'Puerto Brisal', mean: 2.1, range: 1.7, late: 0 },
  { station: 'Vado Bridge', mean: 1.6, range: 1.2, late: 1.1 },
  { station: 'North Light', mean: 2.4, range: 1.9, late: -0.4 },
  { station: 'Eel Quay', mean: 0.9, range: 0.6, late: 2.2 },
]

/** Seconds between two readings of the gauge. */
const every = 3
/** A tide that goes round once in six minutes, so that something happens while somebody looks. */
const round = 360

/** A height (m) at a time (s), to the centimetre. */
function heightAt({ mean, range, late }: (typeof stations)[number], time: number): number {
  const phase = ((time / round - late / 12.4) * 2 * Math.PI) % (2 * Math.PI)
  return Math.round((mean + (range / 2) * Math.cos(phase) + 0.06 * Math.sin(3.7 * phase)) * 100) / 100
}

/** What the gauge says at a time (s): a list of stations, each with its last day as a list of numbers. */
export function gaugeReading(time: number, lies = false) {
  const at = Math.floor(time / every) * every
  return {
    gauge: 'Estuary Week tide gauge (simulated)',
    updated: new Date(at * 1000).toISOString(),
    readings: stations.map((own) => {
      const [before, height] = [heightAt(own, at - every), heightAt(own, at)]
      const curve = Array.from({ length: 24 }, (_, i) => heightAt(own, at - ((23 - i) * round) / 24))
      return {
        station: own.station,
        height: lies ? 99.99 : height,
        trend: lies ? 'sideways' : height > before ? 'rising' : height < before ? 'falling' : 'slack',
        curve: lies ? [] : curve,
        boats: height > own.mean - own.range / 3,
      }
    }),
  }
}

const notices = [
  ['Boat parade starts at noon', 'Ferry line 3 waits at Eel Quay until it has passed.'],
  ['Mud walk moved to 16:30', 'Meet at the North Light; bring boots & a towel.'],
  ['The reef tent is full', 'Oyster growers talk again on Saturday at 11.'],
  ['Lost: one green oar', 'Please bring it to the boat builders’ yard.'],
  ['Night of the gulls', 'Listen with «Ana María Ibáñez» from 22:00, Vado Bridge.'],
  ['Low water at 05:12', 'The ford is open for two hours.'],
] as const

/** The notices out at a time (s): four of them, another one every ten seconds. One that lies says it again and again. */
function noticesAt(time: number, lies: boolean) {
  const step = Math.floor(time / 10)
  return Array.from({ length: 4 }, (_, i) => {
    const n = step - i
    const [title, text] = notices[((n % notices.length) + notices.length) % notices.length]!
    return { id: `notice-${n}`, title: lies ? `${title} `.repeat(9).trim() : title, text, date: new Date(n * 10_000) }
  })
}

const xml = (text: string) =>
  text.replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/>/g, '&gt;').replace(/"/g, '&quot;')

/** RSS 2.0, as rssboard.org/rss-specification has it. */
export function noticesRss(time: number, lies = false): string {
  const items = noticesAt(time, lies).map(
    ({ id, title, text, date }) =>
      `    <item>\n      <title>${xml(title)}</title>\n      <description>${xml(`<p>${xml(text)}</p>`)}</description>\n      <pubDate>${date.toUTCString()}</pubDate>\n      <guid isPermaLink="false">${id}</guid>\n    </item>`,
  )
  return `<?xml version="1.0" encoding="UTF-8"?>\n<rss version="2.0">\n  <channel>\n    <title>Estuary Week notices (simulated)</title>\n    <link>http://127.0.0.1/</link>\n    <description>What changed today</description>\n${items.join('\n')}\n  </channel>\n</rss>\n`
}

/** Atom, as RFC 4287 has it. */
export function noticesAtom(time: number, lies = false): string {
  const entries = noticesAt(time, lies).map(
    ({ id, title, text, date }) =>
      `  <entry>\n    <title>${xml(title)}</title>\n    <id>urn:hoja:${id}</id>\n    <updated>${date.toISOString()}</updated>\n    <summary type="html">${xml(`<p>${xml(text)}</p>`)}</summary>\n  </entry>`,
  )
  const [newest] = noticesAt(time, lies)
  return `<?xml version="1.0" encoding="utf-8"?>\n<feed xmlns="http://www.w3.org/2005/Atom">\n  <title>Estuary Week notices (simulated)</title>\n  <id>urn:hoja:notices</id>\n  <updated>${newest!.date.toISOString()}</updated>\n  <author><name>Orilla</name></author>\n${entries.join('\n')}\n</feed>\n`
}
