/** What a name says, why, and mending it: the story of one file. */
import { flushPromises, type VueWrapper } from '@vue/test-utils'
import { afterEach, describe, expect, it, vi } from 'vitest'
import type { FileItem } from '@/api/client'
import FileStory from '@/views/folders/FileStory.vue'
import { answerAs, mountAlone } from './mounting'

const PATH = 'Tin Kite (2009)/Tin Kite Rising (2009).mkv'
const file = (more: Partial<FileItem> = {}): FileItem => ({
  id: 7,
  folder_id: 1,
  path: PATH,
  directory: 'Tin Kite (2009)',
  name: 'Tin Kite Rising (2009).mkv',
  kind: 'movie',
  state: 'settled',
  size_bytes: 1_500_000,
  serves: 'main',
  marks: [
    {
      field: 'title',
      value: 'Tin Kite Rising',
      spans: [[16, 31]],
      rule: 'what stands before the year',
    },
    { field: 'year', value: 2009, spans: [[33, 37]], rule: 'year in brackets' },
    { field: 'languages', value: ['de', 'en'], spans: [], rule: 'you said so' },
    { field: '', value: null, spans: [[31, 32]], rule: 'left out' },
  ],
  media: null,
  problem: '',
  entry_id: null,
  entry_title: null,
  tidy: null,
  ...more,
})
const WAYS = {
  ways: [
    {
      question: 'number',
      subject: '1961 2009',
      options: [
        {
          name: 'year',
          parts: [{ label: 'year', text: '2009' }],
          points: [{ name: 'in brackets', count: 1 }],
          won: true,
        },
        { name: 'title', parts: [{ label: 'title', text: '1961' }], points: [], won: false },
      ],
    },
  ],
}
let shown: VueWrapper
async function tell(of: FileItem, ways: object = { ways: [] }) {
  const told = answerAs(() => ({ '/api/files/{file_id}/ways': ways }))
  shown = mountAlone(FileStory, { file: of })
  await flushPromises()
  return told
}
const row = (field: string) =>
  shown.findAll('tr').find((one) => one.find(`[data-test=correct-${field}]`).exists())

afterEach(() => {
  shown.unmount()
  vi.restoreAllMocks()
})

describe('what a name says', () => {
  it('stands with the letters that say it, and the reason', async () => {
    await tell(file())
    expect(row('title')?.text()).toMatch(
      /Tin Kite Rising.*Tin Kite Rising.*what stands before the year/,
    )
    expect(row('year')?.find('q').text()).toBe('2009')
    expect(row('languages')?.text()).toContain('de, en')
    expect(row('languages')?.find('q').exists(), 'nothing of the name says it').toBe(false)
    expect(shown.findAll('[data-test^=correct-]'), 'what is left out states nothing').toHaveLength(
      3,
    )
  })

  it('counts letters as people do, not as memory does', async () => {
    await tell(
      file({
        path: '🎐 Bell.mkv',
        marks: [{ field: 'title', value: 'Bell', spans: [[2, 6]], rule: 'what is left' }],
      }),
    )
    expect(row('title')?.find('q').text()).toBe('Bell')
  })

  it('shows the ways that were weighed, the one that won first', async () => {
    await tell(file(), WAYS)
    const options = shown.findAll('.ways li')
    expect(options.map((one) => one.classes('won'))).toEqual([true, false])
    expect(options[0]?.text()).toContain('+')
    expect(shown.find('.ways .question').text()).toContain('1961 2009')
  })
})

describe('mending a reading', () => {
  it('says that a fact is not one', async () => {
    const told = await tell(file())
    await shown.find('[data-test=correct-year]').trigger('click')
    await shown.find('[data-test=drop]').trigger('click')
    await flushPromises()
    expect(told.changes).toMatchObject([
      {
        path: '/api/files/{file_id}/corrections',
        asked: {
          params: { path: { file_id: 7 } },
          body: { field: 'year', action: 'drop', value: null, siblings: false },
        },
      },
    ])
    expect(shown.find('[data-test=drop]').exists(), 'it is put away').toBe(false)
  })

  it('says where a title ends, for all beside it as well', async () => {
    const told = await tell(file())
    await shown.find('[data-test=correct-title]').trigger('click')
    await shown.find('.all input').setValue(true)
    const ends = shown.findAll('.ends .choice')
    expect(
      ends.map((one) => one.text()),
      'not after the last word',
    ).toEqual(['Tin', 'Kite'])
    await ends[1]?.trigger('click')
    await flushPromises()
    expect(told.changes.at(-1)?.asked?.body).toEqual({
      field: 'title',
      action: 'cut',
      value: 'Rising',
      siblings: true,
    })
  })

  it('keeps what was begun open when it fails', async () => {
    answerAs(() => ({}))
    shown = mountAlone(FileStory, { file: file() })
    answerAs(() => ({ 'POST /api/files/{file_id}/corrections': new Error('The drive is away.') }))
    await shown.find('[data-test=correct-year]').trigger('click')
    await shown.find('[data-test=drop]').trigger('click')
    await flushPromises()
    expect(shown.find('[data-test=drop]').exists()).toBe(true)
  })

  it('is put away when another file is looked at', async () => {
    await tell(file())
    await shown.find('[data-test=correct-year]').trigger('click')
    await shown.setProps({ file: file({ id: 8 }) })
    expect(shown.find('[data-test=drop]').exists()).toBe(false)
  })
})

describe('what is inside', () => {
  const inside = () =>
    Object.fromEntries(
      shown
        .findAll('.columns > div:last-child tr')
        .map((one) => [one.find('th').text(), one.find('td').text()]),
    )

  it('of a film is its length, picture and sounds', async () => {
    await tell(
      file({
        media: {
          seconds: 5405,
          video: [{ codec: 'h264', width: 1920, height: 800 }],
          audio: [
            { codec: 'ac3', language: 'de', channels: 6 },
            { codec: 'aac', language: null },
          ],
        },
        entry_id: 12,
        entry_title: 'Tin Kite',
      }),
    )
    expect(inside()).toMatchObject({
      Length: '1:30:05',
      Picture: 'h264 1920×800',
      Sound: 'ac3 de 6ch, aac',
    })
    expect(shown.find('a[href="/catalog/entry/12"]').text()).toContain('Tin Kite')
  })

  it('of a picture is its size, camera, moment and place', async () => {
    await tell(
      file({
        kind: 'photo',
        media: {
          width: 4000,
          height: 3000,
          camera: 'Kite 2',
          taken: '2019-07-20T10:11:12',
          place: [48.1, 16.3],
        },
      }),
    )
    expect(Object.values(inside())).toEqual(
      expect.arrayContaining(['4000×3000', 'Kite 2', '2019-07-20 10:11:12', '48.1, 16.3']),
    )
  })

  it('of a song is what its tags say', async () => {
    await tell(
      file({ kind: 'track', media: { tags: { artist: 'Odo Brask', genres: ['waltz', 'folk'] } } }),
    )
    expect(Object.values(inside())).toEqual(expect.arrayContaining(['Odo Brask', 'waltz, folk']))
  })
})
