/** What this browser takes, asked and never tried: some formats fail without an error. */

const PICTURES = [
  ...['42E01F', '4D4029', '640029', '64002A', '640033', '640034', '6E0033', '7A0033', 'F40033'].map(
    (grade) => `avc1.${grade}`,
  ),
  ...['1.6.L120.B0', '1.6.L153.B0', '2.4.L120.B0', '2.4.L153.B0'].map((grade) => `hvc1.${grade}`),
  ...['00.51.08', '01.51.08', '02.51.10'].map((grade) => `vp09.${grade}`),
  ...['0.13M.08', '0.13M.10', '1.13M.08'].map((grade) => `av01.${grade}`),
]
const SOUNDS = [
  'mp4a.40.2',
  'mp4a.40.5',
  'mp4a.40.29',
  'mp3',
  'opus',
  'flac',
  'ac-3',
  'ec-3',
  'alac',
]
const LOOSE = [
  ...[
    'vp8',
    'vp09.00.51.08',
    'vp09.01.51.08',
    'vp09.02.51.10',
    'av01.0.13M.08',
    'av01.0.13M.10',
  ].map((codec) => `video/webm; codecs="${codec}"`),
  ...['opus', 'vorbis'].map((codec) => `audio/webm; codecs="${codec}"`),
  ...['opus', 'vorbis', 'flac'].map((codec) => `audio/ogg; codecs="${codec}"`),
  'video/ogg; codecs="theora"',
  ...PICTURES.map((codec) => `video/x-matroska; codecs="${codec}"`),
  ...SOUNDS.map((codec) => `audio/x-matroska; codecs="${codec}"`),
  'audio/mpeg',
  'audio/flac',
  'audio/aac',
  'audio/wav; codecs="1"',
]

let known: string[] | undefined

/** Media types in the form of RFC 6381. What comes in fragments must be taken by the media source, too. */
export function whatPlays(): string[] {
  if (known) return known
  const element = document.createElement('video')
  const plays = (type: string) => element.canPlayType(type) !== ''
  const source = 'MediaSource' in window ? window.MediaSource : undefined
  const boxed = [
    ...PICTURES.map((codec) => `video/mp4; codecs="${codec}"`),
    ...SOUNDS.map((codec) => `audio/mp4; codecs="${codec}"`),
  ].filter((type) => plays(type) && (!source || source.isTypeSupported(type)))
  known = [...boxed, ...LOOSE.filter(plays)]
  return known
}
