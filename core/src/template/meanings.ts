/** What a key of the document means, and how it is written, as an example. */
export interface Meaning {
  means: string
  example: unknown
}

type Meanings = Record<string, Meaning>

const m = (means: string, example: unknown): Meaning => ({ means, example })

const curve = { bezier: [0.16, 1, 0.3, 1] }
const keys = [
  { span: 'in', at: 0, value: 0, ease: curve },
  { span: 'in', at: 12, value: 1, ease: 'linear' },
]
const away = [
  { span: 'in', at: 0, value: -1, ease: curve },
  { span: 'in', at: 12, value: 0, ease: 'linear' },
]
const around = {
  ties: [
    { edge: 'start', to: { parts: ['name'] }, at: 'start', gap: -36, follow: 'settled', gone: 'collapse' },
    { edge: 'end', to: { parts: ['name'] }, at: 'end', gap: 36, follow: 'settled', gone: 'collapse' },
  ],
  size: { kind: 'content' },
  place: 0,
}
const fixed = { ties: [], size: { kind: 'fixed', value: 120 }, place: 200 }

/**
 * What every key of a template document means, by the object that it stands in. The JSON Schema and `docs/format.md` say
 * it in these words; together the examples make a template.
 */
export const meanings = {
  document: {
    schema: m('The version of the document.', 5),
    id: m('Names the template, for programs: letters, digits, `-` and `_`.', 'quay'),
    name: m('What people call it.', 'Quay'),
    note: m('What it is for, in a sentence.', 'Lower third for whoever speaks on the quay.'),
    language: m(
      'BCP 47 tag of the language of its texts: capitals, digits, quotation marks and the shapes of letters go by it. Left out: none in particular.',
      'en',
    ),
    tags: m('Words that it is found by.', ['names']),
    frame: m('The frame that it is drawn for; see Frame.', {
      width: 1920,
      height: 1080,
      rate: { num: 25, den: 1 },
      safe: { action: 0.035, title: 0.05 },
    }),
    shapes: m('Other shapes of the frame; see Shape. Left out: that of `frame` alone.', []),
    spans: m('Its time; see Spans.', { in: 12, out: 12, hold: { frames: 101, gives: 'freeze' } }),
    palette: m('Named colours, of which others say `palette:ID`; `from`: worked out from others, see Derived.', [
      { id: 'night', name: 'Night tide', colour: '#12343b' },
      { id: 'shell', name: 'Shell', colour: '#f4ead5' },
    ]),
    parts: m('All that is drawn, the lowest first; see Part.', []),
    styles: m('Styles under a name, kept for other parts and other templates; see SavedStyle.', []),
    guides: m('Lines to draw by, on the desk alone: `axis` across which they lie, `at` px.', [{ axis: 'x', at: 96 }]),
    sections: m("Headings of the editor's form, in their order.", [{ id: 'who', name: 'Who speaks' }]),
    fields: m('What an editor may change; see Field. All else is locked.', []),
    comments: m('Lines of the form that are no field; each stands before one, or, without `before`, at the end.', [
      { id: 'c1', text: 'Names as they are spoken.', before: 'f1' },
    ]),
    proofs: m('Fillings that the template is tried with; `values` by the key of their field.', [
      { id: 'p1', name: 'long', values: { name: 'Maximiliana von Hollenstein' } },
    ]),
    poster: m('The picture on the shelf: a frame (from 0) of a filling.', { frame: 12, values: {} }),
    fonts: m(
      'The fonts it carries; the first is that of texts without one. `sha256` may be left empty for `hoja pack`.',
      [
        {
          id: 'bold',
          family: 'Barlow Condensed',
          style: 'SemiBold',
          file: 'fonts/BarlowCondensed_600SemiBold.ttf',
          sha256: '',
        },
      ],
    ),
    fallbacks: m("Ids of fonts that are asked, in order, for a character that a text's own font lacks.", ['bold']),
    media: m('The pictures it carries: `name` as data calls it, size in px.', [
      { id: 'vado', name: 'vado.png', file: 'media/vado.png', sha256: '', width: 320, height: 320 },
    ]),
    update: m('How a title goes from one filling to the next while it is up; see Update. Absent: in twelve frames.', {
      pace: { kind: 'time', frames: 12 },
      ease: 'linear',
      words: 'fade',
      fade: { out: 6, after: 4, in: 9 },
    }),
    sounds: m('Sounds that play with it: each begins `at` frames into `span`; `level` in dB.', []),
    levels: m('What its checks weigh, by their code, where that is not what they weigh elsewhere: stop, look or off.', {
      quotes: 'off',
    }),
  },
  update: {
    pace: m('How long parts travel to their new boxes: `frames`, or a `speed` in px/s that the longest way goes at.', {
      kind: 'time',
      frames: 12,
    }),
    ease: m('How they travel; see Ease.', 'linear'),
    words: m(
      '`fade`: words and pictures fade out and in; `moves`: they leave by their Out and come by their In.',
      'fade',
    ),
    fade: m('Frames: what leaves is gone after `out`, what comes begins at `after` and takes `in`.', {
      out: 6,
      after: 4,
      in: 9,
    }),
  },
  derived: {
    as: m('`lighter`, `darker`, or `readable`.', 'darker'),
    of: m('The colour of the palette that it comes from.', 'palette:night'),
    by: m('The share of the way to white, or to black.', 0.3),
    on: m('Readable: the ground that it stands on.', 'palette:night'),
    one: m('Readable: one of two, of which that is taken that stands out more (WCAG 2.2).', 'palette:shell'),
    other: m('Readable: the other.', 'palette:ink'),
  },
  frame: {
    width: m('How wide it is, px.', 1920),
    height: m('How high it is, px.', 1080),
    rate: m('Frames a second, as a fraction: 29.97 is 30000 over 1001.', { num: 25, den: 1 }),
    safe: m(
      'How far action-safe and title-safe lie within each edge, as shares of the frame; SMPTE ST 2046-1 has these two.',
      { action: 0.035, title: 0.05 },
    ),
  },
  spans: {
    in: m('Frames of In, in which parts arrive. No retiming touches it.', 12),
    out: m('Frames of Out, in which they leave. No retiming touches it.', 12),
    hold: m(
      'What lies between: `frames` as designed, and how it `gives` when a title lasts longer or shorter: `freeze` (the settled pose stands), `stretch` (its keys are spread over it), `loop` (the frames of `loop`, `from` to `to`, run over and over).',
      { frames: 101, gives: 'loop', loop: { from: 20, to: 60 } },
    ),
  },
  part: {
    id: m('Names it, for ties and fields. No two are alike.', 'plate'),
    name: m('What people call it.', 'Plate'),
    kind: m('text, box, ellipse, path, curve, picture or group.', 'box'),
    x: m('Where it rests from left to right; see Axis.', around),
    y: m('Where it rests from top to bottom; see Axis.', fixed),
    style: m('Properties that differ from their defaults; see Style.', { fill: 'palette:night' }),
    motion: m('How it arrives and leaves; see Motion.', { anchor: { x: 0.5, y: 0.5 }, tracks: {}, out: 'mirror' }),
    matte: m(
      "Cuts it to another part: by that one's `alpha` or `luminance`, or, with `invert`, to all beside it. The other's own shape cuts, fill and stroke; its shadows, glows and blur only with `shadows`.",
      { part: 'mount', by: 'alpha', invert: false },
    ),
    room: m(
      'Texts: how far one may run before its fit steps begin. `free`: as far as it will. `width`: so many px. `limit`: to a place of a target, `gap` px on (less than 0: short of it).',
      { kind: 'limit', to: { region: 'title' }, at: 'end', gap: -40 },
    ),
    locked: m('It cannot be moved or changed by hand on the frame.', true),
    unseen: m(
      'It, and what it holds, may stay unseen or hardly seen, and why: no check tells of that.',
      'A watermark.',
    ),
    parts: m('Groups: what it holds, the lowest first.', []),
  },
  axis: {
    ties: m(
      'None, one or two sentences about its edges; see Tie. Two give both edges, one gives one and `size` the rest.',
      [{ edge: 'start', to: { region: 'title' }, at: 'start', gap: 0, follow: 'settled', gone: 'collapse' }],
    ),
    size: m(
      "Its size where the ties leave it open. `fixed`: `value` px. `content`: a text's, picture's or group's own. `share`: `factor` times the size of a target, plus `plus` px.",
      { kind: 'share', of: { region: 'frame' }, factor: 0.25, plus: 0 },
    ),
    place: m('px from the start of its group, or of the frame; it counts only where there is no tie.', 200),
    min: m('px that it has at least, whatever the rest says.', 40),
    max: m('px that it has at most; of two that cross `min` holds.', 900),
  },
  tie: {
    edge: m('Its own edge that is held: `start` (left, top), `middle` or `end` (right, bottom).', 'start'),
    to: m(
      'What it is held to: the box round some parts that are there, or a region: `frame`, `action` (action-safe), `title` (title-safe), `group` (the group it is in).',
      { parts: ['name'] },
    ),
    at: m('Where on that: `start`, `middle`, `end`, or a share of the way across it.', 'end'),
    gap: m('px from there, to the right or down; less than 0: to the left or up.', 36),
    follow: m(
      '`settled`: to where the target rests, which does not jitter while it moves. `moving`: to where it is at each frame.',
      'settled',
    ),
    gone: m(
      'What becomes of it when all it is held to is hidden or empty. `hide`: this part goes too. `collapse`: the target counts as a point where it would have begun, without the gap. `keep`: as if it were there.',
      'collapse',
    ),
  },
  motion: {
    update: m('`comes`: when it changes while the title is up it leaves by its Out and comes by its In.', 'comes'),
    anchor: m('The point that scale and turn leave in place, as shares of the box it rests in.', { x: 0.5, y: 0.5 }),
    tracks: m('Its channels, those that have keys; see Channels.', { fade: { keys } }),
    segments: m("Texts: channels of its characters, words or lines, besides the text's own; see Segments.", {
      by: 'character',
      order: 'forward',
      seed: 1,
      overlap: 0.7,
      tracks: { fade: { keys } },
    }),
    out: m('`mirror`: it leaves as it came, backwards. `own`: by keys of span `out`.', 'mirror'),
    ride: m(
      'The id of a part whose motion carries it along, besides its own. Without it a part moves by itself, whatever it is tied to.',
      'plate',
    ),
  },
  channels: {
    shiftX: m(
      'Across, from where it rests. `unit` says what 1 is: `px`; `own`, its own width; `frame`, the width of the frame; `off`, just outside the frame on the right (-1: on the left).',
      { unit: 'off', keys: away },
    ),
    shiftY: m('Down, from where it rests; `unit` counts its own height, and the top and bottom of the frame.', {
      unit: 'own',
      keys: away,
    }),
    scale: m('Its size; 1 as it rests.', { keys }),
    turn: m('How far it is turned, degrees clockwise.', { keys: away }),
    fade: m('How much of it shows, 0 to 1.', { keys }),
    reveal: m(
      'The share that is uncovered, 0 to 1: from which side, over how many px the edge is `soft` (0: hard), and how many degrees it leans (`slant`). `leaving`: what of that is otherwise in Out.',
      { from: 'left', soft: 40, slant: 0, keys, leaving: { from: 'right', soft: 0, slant: 0 } },
    ),
    grow: m('The share of its size along an `axis`, 0 to 1, from its `start`, `middle` or `end`.', {
      axis: 'x',
      from: 'start',
      keys,
    }),
    blur: m('How far it is blurred: standard deviation, px.', { keys }),
    colour: m('The share of the colour `to` in all it draws, 0 to 1.', { to: 'palette:shell', keys }),
    track: m('Texts: thousandths of an em that its characters stand further apart.', { keys }),
    weight: m('Texts: how much heavier a variable font is (`wght`) than at rest.', { keys: away }),
    stretch: m('Texts: how much wider a variable font is (`wdth`) than at rest, per cent of its normal width.', {
      keys: away,
    }),
    axis: m('Texts: how much further a variable font stands on any other axis, in its own units.', {
      tag: 'slnt',
      keys: away,
    }),
    trim: m('The share of the line of a path or curve that is drawn, 0 to 1, `from` its start, middle or end.', {
      from: 'start',
      keys,
    }),
    count: m(
      'Texts: the share of the way from the number `start` to the numbers that they say, 0 to 1; digits stand in their places.',
      {
        start: 0,
        keys,
      },
    ),
    travel: m('Texts that run along a way: how much further along it stands, as a share of the way.', { keys: away }),
  },
  key: {
    span: m('in, hold or out; keys stand in this order, and in that of their time.', 'in'),
    at: m('Frames from the start of the span; never past its end, and one key a frame.', 12),
    speed: m(
      'Keys of shiftX, shiftY, grow and reveal: px a second. It comes when the way from the key before it has been gone at that speed, a frame later at least, so that long and short parts move alike; never past its span, or past the next key without a speed. `at` is then where it stood as drawn.',
      3500,
    ),
    value: m('What the channel is there, in its own unit.', 1),
    ease: m(
      'How it goes on to the next key: `linear`; `bezier`, the two points of CSS cubic-bezier; `steps` with its `jump` (start, end, none, both); `points`, those of CSS linear().',
      curve,
    ),
  },
  segments: {
    by: m('What moves by itself: character, word or line.', 'character'),
    order: m('Who comes first: `forward`, `backward`, `middle` (from there to both ends), `random`.', 'forward'),
    seed: m('Of the random order: the same number, the same order.', 1),
    overlap: m('0: each begins when the one before it has come; 1: all at once.', 0.7),
    caret: m('While not all of them are there, a caret stands behind the last one that is.', true),
    tracks: m(
      "shiftX, shiftY, scale, turn, fade and blur, as in Channels; and `settle`: the share of the way to its own letter, before which others stand there, at random (`as` scramble) or in their order, as on a board of flaps (`board`), `from` the digits, its alphabet or the text's own letters.",
      { fade: { keys }, settle: { as: 'scramble', from: 'alphabet', keys } },
    ),
  },
  shape: {
    id: m('Names the shape, for programs: letters, digits, `-` and `_`; `first` is the frame itself.', 'upright'),
    name: m('What people call it.', '9:16'),
    width: m('Width of its frame, px.', 1080),
    height: m('Height of its frame, px.', 1920),
    safe: m('Safe areas, as of Frame.', { action: 0.035, title: 0.05 }),
    guides: m('Lines to draw by on this frame, as of the document.', [{ axis: 'y', at: 1500 }]),
    sets: m(
      'What differs from the first shape: properties of parts, their axes `x` and `y`, their `motion` or `room`. All else follows it.',
      [{ part: 'name', property: 'size', value: 72 }],
    ),
    options: m('What options of choices set otherwise in it, by the id of their field and their value.', []),
  },
  savedStyle: {
    name: m('What people call it.', 'Deep plate'),
    kind: m('The kind of part that it was made for.', 'box'),
    style: m('Properties that differ from their defaults; see Style.', { fill: 'palette:night', strokeWidth: 2 }),
  },
  field: {
    id: m('Names it, for texts that show it.', 'f1'),
    key: m('The name of its column in data; lower case, and not `constructor`.', 'name'),
    name: m('What it is called in the form.', 'Name'),
    note: m('How it should read, for whoever fills it in.', 'First name and surname, no title.'),
    type: m('What is given; see the table of types.', 'text'),
    targets: m('Properties that it sets. A text field needs none: it stands in the runs of texts.', []),
    default: m('What stands where nothing is given.', 'Io Marrec'),
    placeholder: m('What the form shows while it is empty.', 'Name and surname'),
    required: m('Every row must give it.', true),
    section: m('The id of the section it stands in.', 'who'),
    limit: m('Texts: characters (UAX #29) at most; of a list, each.', 40),
    lines: m('Texts: lines at most.', 1),
    allowed: m('Texts: the characters that may stand, with ranges.', "A-Za-z '-"),
    min: m('Numbers: the least that may be given.', 0),
    max: m('Numbers: the most that may be given.', 9.5),
    count: m('Lists: entries at most.', 24),
    format: m('Numbers: how one is written in a text.', {
      decimals: 1,
      mark: '.',
      group: '',
      before: '',
      after: ' m',
      plus: false,
    }),
    pattern: m('Moments: a date pattern of UTS #35.', 'EEEE d MMMM, HH:mm'),
    language: m("BCP 47 tag of the language of its words, months and digits; left out: the title's.", 'en'),
    sample: m(
      'The default is only a sample: a row that gives nothing is told of it. Left out: so for what is read in a text, not so for anything else.',
      true,
    ),
    stands: m(
      "What stands where a row gives nothing, instead of the default: `now`, the moment of rendering (moments); `length`, the title's own (moments, and numbers in seconds); `row` and `rows`, the number of the row and of all rows (numbers).",
      'row',
    ),
    empty: m('Pictures: what an empty cell means, the default or none.', 'none'),
    none: m('Pictures: the word that means no picture in data; left out: none.', '–'),
    fallback: m(
      'Pictures: the picture that stands where the one that a row names is not there; left out: that stops the row.',
      'reed.png',
    ),
    between: m('Lists of texts: what stands between two.', '  ·  '),
    free: m('Colours: any colour; left out: those of the palette.', true),
    paints: m('Colours: those of the palette that it gives, wherever they are used.', ['palette:night']),
    picture: m('Pictures: what besides the picture may be given: scaling, focus, and zoom from and to.', {
      focus: true,
      zoom: [1, 2],
    }),
    options: m(
      'Choices: what may be chosen, and what each sets: properties, the axes x and y, `motion`, `room` or `order` (the place in its list, from 0 below) of parts, and `colours` of the palette.',
      [
        {
          value: 'dark',
          name: 'Dark',
          sets: [{ part: 'plate', property: 'fill', value: 'palette:night' }],
          colours: [{ of: 'palette:shell', to: '#ffffff' }],
        },
      ],
    ),
    fonts: m('Styles: ids of fonts that may be chosen.', ['bold']),
    sizes: m('Styles: the sizes that may be chosen, px from and to.', [30, 60]),
    whole: m(
      'It is about the whole title: a shift moves it, a number scales it (per cent), a choice puts it at one of nine places.',
      true,
    ),
    reach: m('Shifts: px from and to, across and down.', { x: [-200, 200], y: [0, 0] }),
    onAir: m('It may change while the title is on air.', true),
  },
} satisfies Record<string, Meanings>

/** What the values of a style are written as, where they are more than one number or word. */
export const valueMeanings: Meanings = {
  runs: m(
    'Stretches of a text, each with its own style: `text`, or the id of a `field`; `font`, `size` (px), `colour`, `tracking` (thousandths of an em), `features`, `weight`, `stretch` and `axes` of a variable font.',
    [{ field: 'f1' }, { text: ', ' }, { text: 'Vado', colour: 'palette:shell' }],
  ),
  fill: m(
    'A colour; `null` for none; a gradient, its `stops` from 0 to 1, `linear` at an `angle` (degrees, 0 from left to right) or `radial` from its `centre` (shares of the box, left out: the middle) as far as `radius` (share of half the longer side, left out: 1); or a picture that covers or is contained.',
    {
      kind: 'linear',
      angle: 90,
      stops: [
        { at: 0, colour: 'palette:night' },
        { at: 1, colour: '#0b2329' },
      ],
    },
  ),
  colour: m('`#rrggbb`, `#rrggbbaa`, or `palette:ID`.', 'palette:shell'),
  fit: m(
    'What a text does with its room. `fill`: as large as takes a `share` of it, from `least` to `most` times its size, by its `width` (left out: so), by the `height` of its box where that is given, or by `both`, with `wrap` in as many lines as make it largest. Then, in this order, when it runs out of room, each step only as far as is needed and never past `to`: `wrap` to so many lines, `tighten` its tracking to so many thousandths of an em, `condense` its letters to a share of their width, by the width axis of its font as far as that goes, `shrink` to a share of its size, `cut` with an ellipsis.',
    [{ step: 'condense', to: 0.88 }, { step: 'shrink', to: 0.7 }, { step: 'cut' }],
  ),
  shadows: m(
    'Shadows, or, without an offset, glows; the first lies on top. `blur` is twice its standard deviation, px.',
    [{ x: 0, y: 8, blur: 24, colour: '#00000066' }],
  ),
  outlines: m(
    "Lines through points, open or closed. Places are shares of the part's box, and so are `in` and `out`, the handles of the curves before and behind, counted from the point.",
    [
      {
        closed: false,
        points: [
          { x: 0, y: 0.6, out: [0.2, -0.7] },
          { x: 1, y: 0.4, in: [-0.2, 0.7] },
        ],
      },
    ],
  ),
  features: m('OpenType feature tags that are switched on.', ['tnum']),
  axes: m('Where a variable font stands on its axes, each by its tag, in its own units.', [{ tag: 'slnt', value: -8 }]),
}

/** What the properties of a style mean; those of a name mean the same in every kind that has them. */
export const propertyMeanings: Meanings = {
  visible: m('It is drawn; else it is gone, as an empty text is.', false),
  opacity: m('Of all of it, 0 to 1.', 0.8),
  scale: m('Its size as drawn, about the middle; ties reckon with it.', 1.2),
  rotation: m('How far it is turned, degrees clockwise; ties see the upright box round it.', 4),
  blur: m('How far it is blurred: standard deviation, px.', 2),
  blend: m('How it meets what lies below: a mode of W3C Compositing and Blending.', 'multiply'),
  matteOnly: m('It cuts others and is not drawn itself.', true),
  shiftX: m('px across from where its ties put it; what is tied to it goes along.', 12),
  shiftY: m('px down from there, likewise.', -8),
  fill: m('What fills it; of a text, what lies over all its letters instead of their colours.', 'palette:night'),
  stroke: m('The colour of its outline.', 'palette:shell'),
  strokeWidth: m('px, half of it on either side of the outline; 0 for none.', 3),
  shadows: m('Its shadows and glows.', [{ x: 0, y: 8, blur: 24, colour: '#00000066' }]),
  content: m('What it says, as runs.', [{ field: 'f1' }]),
  font: m('The id of its font; empty: the first one.', 'bold'),
  size: m('How large its letters are, px an em.', 64),
  colour: m('Of its letters, where a run has none.', 'palette:shell'),
  tracking: m('Thousandths of an em between characters.', 20),
  leading: m('From line to line, as a share of the size.', 1.1),
  align: m('Where shorter lines stand: start, middle or end, as its language runs.', 'start'),
  breaks: m(
    'How its words are dealt out over several lines: as they come, balanced, or with no word alone on the last.',
    'balanced',
  ),
  direction: m('As written (UAX #9), left to right, or right to left.', 'as written'),
  language: m("BCP 47 tag of its language; empty: the title's.", 'en'),
  hyphenate: m('It may part words at the end of a line, by the rules of its language.', true),
  case: m('As typed, upper or lower, by the rules of its language.', 'upper'),
  shows: m('The box that others are tied to: line (ascender to descender), cap (baseline to capitals) or ink.', 'line'),
  oneSize: m(
    'Its texts are all as much smaller, or larger, than their own size as the one that has to give way most.',
    true,
  ),
  fit: m('What it does when it runs out of room.', [{ step: 'condense', to: 0.88 }, { step: 'cut' }]),
  features: m('OpenType features that are switched on.', ['tnum']),
  weight: m('How heavy a variable font is (`wght`); 0: as it is.', 640),
  stretch: m('How wide a variable font is (`wdth`), per cent of its normal width; 0: as it is.', 85),
  opticalSize: m('The size that a variable font is drawn for (`opsz`); 0: its size in px.', 24),
  axes: m('Where a variable font stands on its other axes.', [{ tag: 'slnt', value: -8 }]),
  along: m('The id of a box, ellipse or path whose outline it runs along; empty: it stands in its box.', 'wave'),
  alongStart: m('The share of the way at which it starts.', 0.1),
  alongSide: m(
    'The side of the way that it stands on: this side, or the other side, where it runs backwards.',
    'other side',
  ),
  alongTurns: m('Its letters turn with the way, or stand upright.', 'stand upright'),
  entries: m(
    'How it goes through the entries of the lists in its texts: all together; in turn, each by the movement of In and Out in the time of Hold; groups also rolling (upwards), crawling (to the left) and in pages, with an entry `---` for a new page.',
    'in turn',
  ),
  entryTime: m(
    'In turn and in pages: how long each stands whole: as long as it takes to read (the title is as long as that takes), a set time (likewise), or its share of Hold.',
    'a set time',
  ),
  entrySeconds: m('A set time, and the least that a reader is given; seconds.', 2.5),
  entryOverlap: m('Frames by which the next comes before the last one has left.', 4),
  entryTravel: m('Frames that what stands round it takes at least to go from one size to the next.', 10),
  runPace: m(
    'Rolling and crawling: at its speed (the title is as long as that takes), to end on time, or over and over.',
    'over and over',
  ),
  runSpeed: m('px a second; less than 0: downwards, or to the right.', 150),
  runSteps: m('As they come, or steady: whole px a frame, or one px in so many frames as go into a second.', 'steady'),
  entryGap: m('px between two entries.', 40),
  crawl: m('px a second that it runs through its box without end; less than 0: to the right; 0: it stands.', 120),
  radiusTopLeft: m('How far its top left corner is rounded, px.', 12),
  radiusTopRight: m('How far its top right corner is rounded, px.', 12),
  radiusBottomRight: m('How far its bottom right corner is rounded, px.', 12),
  radiusBottomLeft: m('How far its bottom left corner is rounded, px.', 12),
  leanLeft: m('Degrees that its left side leans inside its box, clockwise.', 10),
  leanRight: m('Degrees that its right side leans, likewise.', 10),
  outlines: m('The lines that it is made of.', [
    {
      closed: false,
      points: [
        { x: 0, y: 0.6, out: [0.2, -0.7] },
        { x: 1, y: 0.4, in: [-0.2, 0.7] },
      ],
    },
  ]),
  ends: m('How its line ends: butt, round or square.', 'round'),
  corners: m('How it turns: miter, round or bevel.', 'round'),
  dash: m('px drawn and left out, over and over; 0: a whole line.', 12),
  values: m('The numbers that it runs through, from left to right.', [2, 3, 5, 4]),
  range: m(
    'What its height stands for: from the least to the most of the numbers, or fixed, from low to high.',
    'fixed',
  ),
  low: m('The number at its bottom.', 0),
  high: m('The number at its top edge.', 10),
  line: m('How it goes from number to number: smooth, straight or steps.', 'smooth'),
  picture: m('The name of a picture that it carries; empty: none.', 'vado.png'),
  scaling: m('cover (fills its box, cut where it leads out) or contain (all of it).', 'contain'),
  focusX: m('The point that stays in sight when it is cut, as a share of its width.', 0.5),
  focusY: m('The same, of its height.', 0.3),
  movieStart: m('Seconds of a movie that are left out at its beginning.', 1.5),
  movieLength: m('Seconds of a movie that are shown; 0: to its end.', 2),
  movieSpeed: m('How many times as fast as it was taken a movie plays.', 0.5),
  playing: m('What a movie does at its end: once, then holds; once, then goes; over and over.', 'over and over'),
  zoom: m('Larger than it would be, times.', 1.5),
}
