/** Dates, sizes and lengths in the reader's locale; and what differs between two names. */

const KILO = 1000

export function bytes(value: number, locale: string): string {
  const units = ['byte', 'kilobyte', 'megabyte', 'gigabyte', 'terabyte'] as const
  let place = 0
  let rest = value
  while (rest >= KILO && place < units.length - 1) {
    rest /= KILO
    place++
  }
  return new Intl.NumberFormat(locale, {
    style: 'unit',
    unit: units[place],
    unitDisplay: place ? 'short' : 'long',
    maximumFractionDigits: rest < 10 && place ? 1 : 0,
  }).format(rest)
}

export function day(iso: string, locale: string): string {
  const date = new Date(iso.length === 10 ? `${iso}T12:00:00` : iso)
  return Number.isNaN(date.getTime())
    ? iso
    : new Intl.DateTimeFormat(locale, { day: 'numeric', month: 'long', year: 'numeric' }).format(
        date,
      )
}

/** 2018-04 → April 2018, as short as a row's label has to be. */
export function month(yearAndMonth: string, locale: string): string {
  const date = new Date(`${yearAndMonth}-15T12:00:00`)
  return Number.isNaN(date.getTime())
    ? yearAndMonth
    : new Intl.DateTimeFormat(locale, { month: 'short', year: 'numeric' }).format(date)
}

/** A country by its code of two letters (ISO 3166-1), as readers call it; any other name as it is. */
export function country(told: string, locale: string): string {
  if (!/^[A-Z]{2}$/.test(told)) return told
  return new Intl.DisplayNames([locale], { type: 'region' }).of(told) ?? told
}

export function moment(iso: string, locale: string): string {
  return new Intl.DateTimeFormat(locale, {
    day: 'numeric',
    month: 'short',
    hour: '2-digit',
    minute: '2-digit',
  }).format(new Date(iso))
}

/** 6240 → 1:44:00, 215 → 3:35 */
export function clock(seconds: number): string {
  const whole = Math.max(0, Math.round(seconds))
  const [h, m, s] = [Math.floor(whole / 3600), Math.floor(whole / 60) % 60, whole % 60]
  const two = (n: number) => String(n).padStart(2, '0')
  return h ? `${h}:${two(m)}:${two(s)}` : `${m}:${two(s)}`
}

/** How long something lasts: in minutes where it is long, else to the second. */
export function lasts(seconds: number, t: (key: string, values: { n: number }) => string): string {
  if (!(seconds > 0)) return ''
  return seconds < 600 ? clock(seconds) : t('matches.minutes', { n: Math.round(seconds / 60) })
}

export interface Piece {
  text: string
  changed: boolean
}

/** Letters that stand in one name and not in the other, in words: the longest common run of tokens stays. */
export function compareNames(before: string, after: string): { before: Piece[]; after: Piece[] } {
  const cut = (text: string) => text.match(/[\p{L}\p{M}\p{N}]+|[^\p{L}\p{M}\p{N}]/gu) ?? []
  const [a, b] = [cut(before), cut(after)]
  const table: number[][] = Array.from({ length: a.length + 1 }, () =>
    new Array<number>(b.length + 1).fill(0),
  )
  for (let i = a.length - 1; i >= 0; i--) {
    for (let j = b.length - 1; j >= 0; j--) {
      table[i]![j] =
        a[i] === b[j] ? table[i + 1]![j + 1]! + 1 : Math.max(table[i + 1]![j]!, table[i]![j + 1]!)
    }
  }
  const left: Piece[] = []
  const right: Piece[] = []
  const push = (pieces: Piece[], text: string, changed: boolean) => {
    const last = pieces.at(-1)
    if (last && last.changed === changed) last.text += text
    else pieces.push({ text, changed })
  }
  let [i, j] = [0, 0]
  while (i < a.length || j < b.length) {
    if (i < a.length && j < b.length && a[i] === b[j]) {
      push(left, a[i++]!, false)
      push(right, b[j++]!, false)
    } else if (j >= b.length || (i < a.length && table[i + 1]![j]! >= table[i]![j + 1]!))
      push(left, a[i++]!, true)
    else push(right, b[j++]!, true)
  }
  return { before: left, after: right }
}

export interface Marked {
  text: string
  field: string
  rule: string
  value: string
}

interface MarkLike {
  field: string
  value: unknown
  spans: number[][]
  rule: string
}

/**
 * A path cut into parts that each carry the fact they state. Spans count code points; where two facts share letters,
 * the shorter span shows.
 */
export function markName(path: string, marks: readonly MarkLike[], from = 0): Marked[] {
  const letters = Array.from(path)
  const owner = new Array<MarkLike | undefined>(letters.length)
  const flat = marks.flatMap((mark) =>
    mark.spans.map((span) => ({ mark, start: span[0] ?? 0, end: span[1] ?? 0 })),
  )
  flat.sort((one, other) => other.end - other.start - (one.end - one.start))
  for (const { mark, start, end } of flat)
    for (let at = start; at < Math.min(end, letters.length); at++) owner[at] = mark
  const parts: Marked[] = []
  let last: MarkLike | undefined | null = null
  letters.forEach((letter, at) => {
    if (at < from) return
    const mark = owner[at]
    const end = parts.at(-1)
    if (end && mark === last) end.text += letter
    else
      parts.push({
        text: letter,
        field: mark ? mark.field || 'ignored' : '',
        rule: mark?.rule ?? '',
        value:
          mark?.value == null
            ? ''
            : typeof mark.value === 'object'
              ? JSON.stringify(mark.value)
              : String(mark.value),
      })
    last = mark
  })
  return parts
}

const BROWSERS: readonly [RegExp, string][] = [
  [/Edg\//, 'Edge'],
  [/OPR\//, 'Opera'],
  [/Firefox\//, 'Firefox'],
  [/Chrom(?:e|ium)\//, 'Chromium'],
  [/Safari\//, 'Safari'],
]
const SYSTEMS: readonly [RegExp, string][] = [
  [/Android/, 'Android'],
  [/iPhone|iPad/, 'iOS'],
  [/Windows/, 'Windows'],
  [/Mac OS/, 'macOS'],
  [/Linux|X11/, 'Linux'],
]

/** What a browser says of itself, in two words; what it says itself where it is none that is known. */
export function deviceName(agent: string): string {
  const first = (table: readonly [RegExp, string][]): string | undefined =>
    table.find(([sign]) => sign.test(agent))?.[1]
  return [first(BROWSERS), first(SYSTEMS)].filter(Boolean).join(', ') || agent.slice(0, 60)
}
