import { feedDate, openDataFile, readFeed, valueTexts } from './index.ts'

const bytes = (text: string) => new TextEncoder().encode(text)
const rowsOf = (text: string, name = 'feed.xml') => {
  const { columns, rows } = readFeed(bytes(text), name)
  return rows.map((row) => Object.fromEntries(columns.map((column, i) => [column, row[i]])))
}

// RSS 2.0 Specification (rssboard.org/rss-specification), its own sample of elements, shortened; from memory.
const rss = `<?xml version="1.0"?>
<rss version="2.0"><channel>
<title>Liftoff News</title><link>http://liftoff.example/</link><description>Liftoff to Space Exploration.</description>
<item>
  <title>Star City</title>
  <link>http://liftoff.example/news/2003/news-starcity.asp</link>
  <description>How do Americans get ready to work with Russians aboard the International Space Station? They take a crash course in culture, language and protocol at Russia's &lt;a href="http://howe.example/index.htm"&gt;Star City&lt;/a&gt;.</description>
  <pubDate>Tue, 03 Jun 2003 09:39:21 GMT</pubDate>
  <guid>http://liftoff.example/2003/06/03.html#item573</guid>
</item>
<item>
  <description>Sky watchers in Europe, Asia, and parts of Alaska and Canada will experience a &lt;b&gt;partial&lt;/b&gt; eclipse.</description>
  <pubDate>Fri, 30 May 03 11:06:42 GMT</pubDate>
  <category>sky</category><category>eclipse</category>
  <enclosure url="http://liftoff.example/eclipse.png" length="12216320" type="image/png" />
</item>
</channel></rss>`

test('RSS 2.0: every element of an item may be absent, markup becomes words, dates of two and four digits', () => {
  expect(rowsOf(rss)).toEqual([
    {
      title: 'Star City',
      text: "How do Americans get ready to work with Russians aboard the International Space Station? They take a crash course in culture, language and protocol at Russia's Star City.",
      date: '2003-06-03T09:39:21',
      category: '',
      link: 'http://liftoff.example/news/2003/news-starcity.asp',
      id: 'http://liftoff.example/2003/06/03.html#item573',
      media: '',
    },
    {
      title: '',
      text: 'Sky watchers in Europe, Asia, and parts of Alaska and Canada will experience a partial eclipse.',
      date: '2003-05-30T11:06:42',
      category: 'sky, eclipse',
      link: '',
      id: '',
      media: 'http://liftoff.example/eclipse.png',
    },
  ])
})

// RFC 4287, 1.1: the brief, single-entry feed, and what 3.1.1 says of its three kinds of text.
const atom = (entry: string) => `<?xml version="1.0" encoding="utf-8"?>
<feed xmlns="http://www.w3.org/2005/Atom">
  <title>Example Feed</title><link href="http://example.org/"/><updated>2003-12-13T18:30:02Z</updated>
  <author><name>John Doe</name></author><id>urn:uuid:60a76c80-d399-11d9-b93C-0003939e0af6</id>
  <entry>${entry}</entry>
</feed>`

test('Atom (RFC 4287): the example of section 1.1', () => {
  const entry = `<title>Atom-Powered Robots Run Amok</title><link href="http://example.org/2003/12/13/atom03"/>
    <id>urn:uuid:1225c695-cfb8-4ebb-aaaa-80da344efa6a</id><updated>2003-12-13T18:30:02Z</updated><summary>Some text.</summary>`
  expect(rowsOf(atom(entry))).toEqual([
    {
      title: 'Atom-Powered Robots Run Amok',
      text: 'Some text.',
      date: '2003-12-13T18:30:02',
      // Of the feed: 4.2.1, the entry has none of its own.
      author: 'John Doe',
      link: 'http://example.org/2003/12/13/atom03',
      id: 'urn:uuid:1225c695-cfb8-4ebb-aaaa-80da344efa6a',
    },
  ])
})

test('Atom: text, html and xhtml constructs (RFC 4287, 3.1.1.1 to 3.1.1.3) are words; what was published comes before what was updated', () => {
  const told = (title: string) => rowsOf(atom(`${title}<updated>2026-11-26T10:00:00+01:00</updated>`))[0]!.title!
  expect(told('<title type="text">Less: &lt;</title>')).toBe('Less: <')
  expect(told('<title type="html">Less: &lt;em> &amp;lt; &lt;/em></title>')).toBe('Less: <')
  expect(
    told('<title type="xhtml"><div xmlns="http://www.w3.org/1999/xhtml">Less: <b>now</b></div></title>').replace(
      /\s+/g,
      ' ',
    ),
  ).toMatch(/Less: ?.*now|now.*Less:/)
  const row = rowsOf(
    atom(`<title>t</title><updated>2026-11-27T10:00:00Z</updated><published>2026-11-26T18:30:00+01:00</published>
      <link rel="enclosure" href="http://example.org/gull.png"/><category term="mud" label="Mud walks"/><author><name>Io</name></author>`),
  )[0]!
  expect(row).toMatchObject({
    date: '2026-11-26T18:30:00',
    media: 'http://example.org/gull.png',
    category: 'Mud walks',
    author: 'Io',
  })
})

test('what is no feed is refused with line and column, or with what it should be', () => {
  const refused = (text: string) => {
    try {
      readFeed(bytes(text), 'n.rss')
    } catch (error) {
      return (error as Error).message
    }
    return undefined
  }
  expect(refused(rss.slice(0, 700))).toMatch(/^"n.rss" is not XML: it breaks at line \d+, column \d+ \(.+\)\.$/)
  expect(refused('<html><body/></html>')).toBe(
    '"n.rss" is neither RSS 2.0 nor Atom; use the address of the feed itself.',
  )
  expect(refused('<rss version="2.0"><channel><title>t</title></channel></rss>')).toBe('"n.rss" holds no items now.')
  expect(refused('')).toContain('empty')
})

test('a feed is a data file like others; dates that are none stay as they are', () => {
  const { facts, table } = openDataFile(bytes(rss), 'notices.rss')
  expect(facts.kind).toBe('feed')
  expect(table.rows).toHaveLength(2)
  expect([feedDate('1 Jan 2026 00:05 EST'), feedDate('soon'), feedDate('2 Xyz 2026 10:00')]).toEqual([
    '2026-01-01T00:05',
    'soon',
    '2 Xyz 2026 10:00',
  ])
})

// RSS 2.0 (rssboard.org/rss-specification: entity-encoded HTML and CDATA in a description, "Encoding & examples") and Atom,
// RFC 4287, 3.1.1.2 (an HTML title with entities): examples in the manner of both, from memory.
test('items of a feed become the list that a crawl runs through, entities and CDATA as they are read', () => {
  const rss = `<?xml version="1.0"?><rss version="2.0"><channel><title>n</title><link>l</link><description>d</description>
    <item><title>Boats &amp; oars: 3 &lt; 4</title></item>
    <item><title><![CDATA[The <b>reef</b> tent & its "talk"]]></title></item></channel></rss>`
  const atom = `<feed xmlns="http://www.w3.org/2005/Atom"><title>n</title><id>i</id><updated>2026-11-26T12:00:00Z</updated>
    <entry><title type="html">Less: &lt;em> &amp;lt; &lt;/em></title><id>1</id><updated>2026-11-26T12:00:00Z</updated></entry>
    <entry><title>AT&amp;T &#38; caf&#xe9;</title><id>2</id><updated>2026-11-26T12:00:00Z</updated></entry></feed>`
  const titles = (text: string) => valueTexts(rowsOf(text) as Record<string, string>[], '$[*].title')
  expect(titles(rss)).toBe('Boats & oars: 3 < 4\nThe reef tent & its "talk"')
  expect(titles(atom)).toBe('Less: <\nAT&T & café')
  expect(valueTexts([{ h: '3.1' }, { h: '4' }], '$[1].h')).toBe('4')
  expect(valueTexts([{ h: '3.1' }], '$[7].h')).toBeUndefined()
  expect(() => valueTexts([], 'height')).toThrow('is no path of RFC 9535')
})
