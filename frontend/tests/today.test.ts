/** What a librarian sees first: what came in, what waits, what runs, how all stands, and what only they can say. */
import { flushPromises, type VueWrapper } from '@vue/test-utils'
import { afterEach, describe, expect, it, vi } from 'vitest'
import type { Job, Today } from '@/api/client'
import JobRow from '@/parts/JobRow.vue'
import DoorPanel from '@/views/today/DoorPanel.vue'
import TodayView from '@/views/today/TodayView.vue'
import { answerAs, mountAlone } from './mounting'

const job = (more: Partial<Job> = {}): Job => ({
  id: 5,
  kind: 'scan',
  title: 'Scan Films',
  state: 'running',
  step: 'Reading names',
  done: 30,
  total: 120,
  rate: 12,
  seconds_left: 75,
  current: 'Films/Tin Kite (2009)/Tin Kite (2009).mkv',
  message: '',
  created_at: '2026-11-03T09:00:00+00:00',
  finished_at: null,
  ...more,
})
const entry = (id: number, more = {}) => ({
  id,
  kind: 'movie',
  title: `Film ${id}`,
  subtitle: '',
  year: 1990 + id,
  moment: null,
  state: 'settled',
  picture: null,
  ...more,
})
const today = (more: Partial<Today> = {}): Today =>
  ({
    since: null,
    arrivals: [],
    libraries: [],
    jobs: [],
    waiting: { matches: 0, names: 0 },
    little_room: null,
    troubles: [],
    newcomers: [],
    guesses: [],
    absences: [],
    ...more,
  }) as Today
let shown: VueWrapper
async function tell(of: Today, more: Record<string, unknown> = {}) {
  const told = answerAs(() => ({ '/api/today': of, '/api/intakes': { arrivals: [] }, ...more }))
  shown = mountAlone(TodayView)
  await flushPromises()
  return told
}
afterEach(() => {
  shown.unmount()
  vi.restoreAllMocks()
})

describe('today', () => {
  it('is calm where nothing waits, runs or came', async () => {
    await tell(today())
    expect(shown.text()).toContain('Nothing new came in.')
    expect(shown.text()).toContain('Nothing waits for you.')
    expect(shown.text()).toContain('Nothing runs at the moment.')
    expect(shown.text(), 'no trouble is not told').not.toContain('What could not be read')
    expect(shown.find('[data-test=room]').exists()).toBe(false)
  })

  it('leads to what waits', async () => {
    await tell(today({ waiting: { matches: 1, names: 12 } }))
    const ways = shown.findAll('.waits a').map((way) => [way.attributes('href'), way.text()])
    expect(ways).toEqual([
      ['/matches', expect.stringContaining('1 decision')],
      ['/names', expect.stringContaining('12 names to mend')],
    ])
    expect(shown.text()).not.toContain('Nothing waits for you.')
  })

  it('shows what came in, and how many more', async () => {
    const entries = Array.from({ length: 12 }, (_, place) => entry(place + 1))
    await tell(
      today({
        since: '2026-11-02T08:00:00+00:00',
        arrivals: [
          { at: '2026-11-03', library: 'Films', entries, total: 40 },
          {
            at: '2026-11-03',
            library: 'Music',
            entries: [
              entry(90, { kind: 'album', title: 'Kelp Waltz', subtitle: 'Odo Brask', year: 2014 }),
            ],
            total: 1,
          },
        ] as unknown as Today['arrivals'],
      }),
    )
    const [films, music] = shown.findAll('.arrival')
    expect(films?.findAll('li')).toHaveLength(12)
    expect(films?.text()).toContain('and 28 more')
    expect(music?.text(), 'an album is told by who made it').toContain('Odo Brask')
    expect(music?.text()).not.toContain('2014')
    expect(shown.find('.head').text()).toContain('since November 2, 2026')
  })

  it('scans a library, and looks again', async () => {
    const told = await tell(
      today({
        libraries: [
          {
            id: 3,
            name: 'Films',
            kind: 'movies',
            states: { settled: 40, name: 2 },
            size_bytes: 9e9,
          },
        ] as unknown as Today['libraries'],
      }),
    )
    expect(shown.find('.library').text()).toContain('42 files')
    const before = told.asked.length
    await shown.find('.library .link').trigger('click')
    await flushPromises()
    expect(told.changes).toMatchObject([
      { path: '/api/libraries/{library_id}/scan', asked: { params: { path: { library_id: 3 } } } },
    ])
    expect(told.asked.slice(before).map((call) => call.path)).toContain('/api/today')
  })

  it('says what cannot be read by its name, and where room is short', async () => {
    await tell(
      today({
        little_room: 400_000_000,
        troubles: [
          {
            at: '',
            level: 'warning',
            path: '/media/Films/Tin Kite.mkv',
            text: 'The file is empty.',
          },
        ],
      }),
    )
    expect(shown.find('.troubles').text()).toMatch(/^Tin Kite\.mkv\s*The file is empty\.$/)
    expect(shown.find('[data-test=room]').text()).toContain('400 MB')
  })

  it('asks a person what became of files that vanished all at once', async () => {
    const told = await tell(
      today({
        absences: [{ library_id: 3, library: 'Films', folder: '/media/films', files: 61 }] as never,
      }),
    )
    const [keep, gone] = shown.findAll('.acts .link')
    await keep?.trigger('click')
    await flushPromises()
    await gone?.trigger('click')
    await flushPromises()
    expect(told.changes.map((call) => call.asked?.body)).toEqual([{ gone: false }, { gone: true }])
  })

  it('says when the server does not answer, and asks again', async () => {
    let answer: unknown = new Error('The database does not answer.')
    answerAs(() => ({ '/api/today': answer, '/api/intakes': { arrivals: [] } }))
    shown = mountAlone(TodayView)
    await flushPromises()
    expect(shown.find('[role=alert]').text()).toContain('The database does not answer.')
    answer = today()
    await shown.find('[role=alert] button').trigger('click')
    await flushPromises()
    expect(shown.find('[role=alert]').exists()).toBe(false)
  })
})

describe('a job', () => {
  const tellJob = (of: Job, detailed = false, answers: Record<string, unknown> = {}) => {
    const told = answerAs(() => answers)
    shown = mountAlone(JobRow, { job: of, detailed })
    return told
  }

  it('that runs says where it is, how fast, and how long still', () => {
    tellJob(job())
    expect(shown.text()).toMatch(/Reading names.*30 of 120.*12 a second.*1:15 left/)
    expect(shown.text()).toContain('Tin Kite (2009).mkv')
    const bar = shown.find('[role=progressbar]')
    expect([bar.attributes('aria-valuenow'), bar.attributes('aria-valuemax')]).toEqual([
      '30',
      '120',
    ])
    expect(bar.attributes('aria-label')).toBe('Scan Films')
  })

  it('of unknown length says neither how many nor how long', () => {
    tellJob(job({ total: 0, rate: 0, seconds_left: null }))
    expect(shown.text()).not.toMatch(/ of |left|a second/)
    expect(shown.find('.track .unknown').exists()).toBe(true)
  })

  it('is stopped once', async () => {
    const told = tellJob(job())
    await shown.find('button').trigger('click')
    expect(told.changes).toMatchObject([{ asked: { params: { path: { job_id: 5 } } } }])
    expect(shown.find('button').attributes('disabled')).toBeDefined()
    expect(shown.find('button').text()).toBe('Stopping …')
  })

  it('that could not be stopped may be stopped again', async () => {
    tellJob(job(), false, { 'POST /api/jobs/{job_id}/stop': new Error('no') })
    await shown.find('button').trigger('click')
    await flushPromises()
    expect(shown.find('button').attributes('disabled')).toBeUndefined()
  })

  it.each([
    [job({ state: 'queued', step: '' }), 'waits', true],
    [job({ state: 'failed', message: 'The disk is full.' }), 'The disk is full.', false],
    [job({ state: 'stopped', message: 'Stopped by hand.' }), 'stopped', false],
  ])('says how it stands: %#', (of, said, hasStop) => {
    tellJob(of)
    expect(shown.text()).toContain(said)
    expect(shown.find('button').exists()).toBe(hasStop)
    expect(shown.find('[role=progressbar]').exists()).toBe(false)
  })

  it('shows its log when it is asked for, and not before', async () => {
    const lines = [
      { at: '', level: 'warning', path: 'a.mkv', text: 'The file is empty.' },
      { at: '', level: 'info', path: '', text: 'Done.' },
    ]
    const told = tellJob(job({ state: 'done', message: '3 new' }), true, {
      '/api/jobs/{job_id}/log': { lines },
    })
    expect(told.asked).toEqual([])
    await shown.find('button').trigger('click')
    await flushPromises()
    expect(shown.findAll('.log li').map((line) => line.text())).toEqual([
      'a.mkv: The file is empty.',
      'Done.',
    ])
    expect(shown.find('.log .warning').exists()).toBe(true)
  })

  it('with nothing to report says so', async () => {
    tellJob(job({ state: 'done' }), true, { '/api/jobs/{job_id}/log': { lines: [] } })
    await shown.find('button').trigger('click')
    await flushPromises()
    expect(shown.find('.log').text()).toBe('Nothing to report.')
  })
})

describe('what waits at the door', () => {
  const arrival = (state: string, more = {}) => ({
    id: 4,
    path: 'tin.kite.2009.mkv',
    state,
    why: 'No source is sure what it is.',
    library: 'Films',
    size_bytes: 7e8,
    files: 1,
    moves: [],
    changed_at: '2026-11-03T09:00:00+00:00',
    ...more,
  })

  it('is not there where nothing came', async () => {
    answerAs(() => ({ '/api/intakes': { arrivals: [] } }))
    shown = mountAlone(DoorPanel)
    await flushPromises()
    expect(shown.find('section').exists()).toBe(false)
  })

  it('says why it was not filed by itself', async () => {
    answerAs(() => ({ '/api/intakes': { arrivals: [arrival('unknown')] } }))
    shown = mountAlone(DoorPanel)
    await flushPromises()
    expect(shown.text()).toContain('tin.kite.2009.mkv')
    expect(shown.text()).toContain('No source is sure what it is.')
  })

  it.each([
    ['.el-button', '/api/arrivals/{arrival_id}/file'],
    ['.link', '/api/arrivals/{arrival_id}/leave'],
  ])('is filed or left by hand: %s', async (button, path) => {
    const moves = [{ before: 'tin.kite.2009.mkv', after: 'Tin Kite (2009)/Tin Kite (2009).mkv' }]
    const told = answerAs(() => ({
      '/api/intakes': { arrivals: [arrival('proposed', { moves })] },
    }))
    shown = mountAlone(DoorPanel)
    await flushPromises()
    expect(shown.text()).toContain('Films')
    await shown.find(`.acts ${button}`).trigger('click')
    await flushPromises()
    expect(told.changes).toMatchObject([{ path, asked: { params: { path: { arrival_id: 4 } } } }])
    expect(told.asked.filter((call) => call.path === '/api/intakes')).toHaveLength(2)
  })

  it('says when it could not be filed', async () => {
    answerAs(() => ({
      '/api/intakes': { arrivals: [arrival('proposed')] },
      'POST /api/arrivals/{arrival_id}/file': new Error('The drive of Films is not there.'),
    }))
    shown = mountAlone(DoorPanel)
    await flushPromises()
    await shown.find('.acts .el-button').trigger('click')
    await flushPromises()
    expect(shown.find('[role=alert]').text()).toContain('The drive of Films is not there.')
  })
})
