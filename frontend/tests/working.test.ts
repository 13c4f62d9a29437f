/** Work that goes on while one looks: plans that are drafted, carried out and taken back; a queue put in order by keys. */
import { flushPromises, type VueWrapper } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { defineComponent } from 'vue'
import type { Plan } from '@/api/client'
import { usePlans, type UsePlans } from '@/composables/usePlans'
import { usePlayer } from '@/composables/usePlayer'
import QueueSheet from '@/parts/QueueSheet.vue'
import { answerAs, mountAlone, type Asked, type Call } from './mounting'

vi.mock('element-plus', () => ({
  ElMessage: vi.fn(),
  ElButton: { template: '<button type="submit"><slot/></button>' },
}))

let shown: VueWrapper | undefined
let told: { asked: Call[]; changes: Call[] }
let answers: Record<string, unknown> = {}

beforeEach(() => {
  answers = {}
  told = answerAs(() => answers)
})
afterEach(() => {
  shown?.unmount()
  vi.restoreAllMocks()
})

const put = (part: object, props: object = {}) => (shown = mountAlone(part, props))

describe('plans', () => {
  let plans: UsePlans
  let jobs: { id: number; state: string }[] = []
  const plan = (id: number) => ({ id, steps: [] }) as unknown as Plan
  const chosen = (id: number, library: number) => ({ id, library_id: library })
  const changes = () => told.changes.map((call) => `${call.method} ${call.path}`)

  beforeEach(async () => {
    let made = 0
    jobs = []
    const number = (asked?: Asked) => Number(asked?.params?.path?.plan_id)
    const begin = (asked?: Asked) => {
      jobs.push({ id: 100 + number(asked), state: 'running' })
      return { job_id: 100 + number(asked) }
    }
    answers = {
      'POST /api/plans': () => plan((made += 1)),
      'POST /api/plans/writing': () => plan((made += 1)),
      'GET /api/plans/{plan_id}': (asked?: Asked) => plan(number(asked)),
      'POST /api/plans/{plan_id}/apply': begin,
      'POST /api/plans/{plan_id}/undo': begin,
      'POST /api/duplicates/bin': { plans: [7, 8] },
      '/api/jobs': () => ({ jobs: jobs.map((job) => ({ ...job })) }),
    }
    const user = defineComponent({
      setup: () => ((plans = usePlans()), {}),
      template: '<i/>',
    })
    put(user)
    await flushPromises()
  })

  it('are drafted one a library, each with what was chosen of it', async () => {
    await plans.draft([chosen(1, 4), chosen(2, 9), chosen(3, 4)], { '3': 'Another.mkv' })
    expect(plans.plans.value.map((one) => one.id)).toEqual([1, 2])
    const bodies = told.changes.map((call) => call.asked?.body)
    expect(bodies).toEqual([
      { library_id: 4, findings: [1, 3], edits: { '3': 'Another.mkv' }, below: null },
      { library_id: 9, findings: [2], edits: { '3': 'Another.mkv' }, below: null },
    ])
    expect(plans.busy.value).toBe(false)
  })

  it('are of a whole library below a folder, of facts to be written, of what goes to the bin', async () => {
    await plans.draftWhole(4, 'Films/A')
    await plans.draftWriting(5)
    await plans.draftBin([{ group: 3, keep: 11 }])
    expect(told.changes.map((call) => call.asked?.body)).toEqual([
      { library_id: 4, findings: [], edits: {}, below: 'Films/A' },
      { library_id: 5 },
      { choices: [{ group: 3, keep: 11 }] },
    ])
    expect(plans.plans.value.map((one) => one.id)).toEqual([7, 8])
  })

  it('are carried out once, however often one presses, until all of their jobs have ended', async () => {
    await plans.draft([chosen(1, 4), chosen(2, 9)], {})
    await plans.apply()
    await flushPromises()
    expect(plans.busy.value).toBe(true)
    expect(plans.jobs.value.map((job) => job.id)).toEqual([101, 102])
    await plans.apply()
    await plans.undo()
    expect(changes().filter((one) => one.includes('{plan_id}'))).toHaveLength(2)
  })

  it('are taken back after they were carried out, and read again each time', async () => {
    await plans.draft([chosen(1, 4)], {})
    await plans.apply()
    await flushPromises()
    jobs.forEach((job) => (job.state = 'done'))
    plans.take(plan(1))
    await plans.undo()
    expect(changes().at(-1)).toBe('POST /api/plans/{plan_id}/undo')
    expect(told.changes.at(-1)?.asked?.body).toEqual({ only: null })
    const read = told.asked.filter((call) => call.path === '/api/plans/{plan_id}')
    expect(read, 'when it began, when it ended, when it was taken back').toHaveLength(3)
    plans.close()
    expect([plans.plans.value, plans.jobs.value, plans.busy.value]).toEqual([[], [], false])
  })

  it('that cannot be drafted say why, and what was there before stays', async () => {
    await plans.draft([chosen(1, 4)], {})
    answers['POST /api/plans'] = new Error('The drive is away.')
    await plans.draft([chosen(2, 4)], {})
    expect(plans.error.value?.message).toBe('The drive is away.')
    expect(plans.plans.value.map((one) => one.id)).toEqual([1])
    delete answers['POST /api/plans']
    await plans.draftWriting(4)
    expect(plans.error.value).toBeUndefined()
  })
})

describe('the sheet of the queue', () => {
  const player = usePlayer()
  const labels = () => player.queue.value.songs.map((song) => song.label)
  const rows = () => shown!.findAll('li')
  const focused = () => rows().findIndex((row) => row.element === document.activeElement)
  const press = (at: number, key: string, more: object = {}) =>
    rows()[at]!.trigger('keydown', { key, ...more })

  beforeEach(async () => {
    const items = ['Flour', 'Salt', 'Water', 'Yeast'].map((label, n) => ({
      ...{ entryId: n + 1, fileId: n + 10, label, seconds: 60 * (n + 1) },
    }))
    player.play({
      items,
      from: 'Salt Bread',
      by: 'Wren Halloway',
      picture: null,
      fromId: 3,
    } as never)
    put(QueueSheet)
    await flushPromises()
  })
  afterEach(() => player.close())

  it('is begun at what plays, and walked through by arrows without leaving it', async () => {
    expect(focused()).toBe(0)
    await press(0, 'ArrowUp')
    expect(focused()).toBe(0)
    await press(0, 'ArrowDown')
    expect(focused()).toBe(1)
  })

  it('is put in order by Alt and arrows, the focus going along', async () => {
    await press(0, 'ArrowDown', { altKey: true })
    await flushPromises()
    expect(labels()).toEqual(['Salt', 'Flour', 'Water', 'Yeast'])
    expect(focused()).toBe(1)
    expect(player.current.value?.label, 'what plays goes on').toBe('Flour')
    await press(3, 'ArrowDown', { altKey: true })
    expect(labels().at(-1)).toBe('Yeast')
  })

  it('loses what is deleted, and the next row has the focus', async () => {
    await press(1, 'Delete')
    await flushPromises()
    expect(labels()).toEqual(['Flour', 'Water', 'Yeast'])
    expect(focused()).toBe(1)
    await press(2, 'Delete')
    await flushPromises()
    expect([labels(), focused()]).toEqual([['Flour', 'Water'], 1])
  })

  it('plays a row by Enter, and only where the row itself has the focus', async () => {
    await press(2, 'Enter')
    expect(player.current.value?.label).toBe('Water')
    await rows()[3]!.find('button').trigger('keydown', { key: 'Enter' })
    expect(player.current.value?.label).toBe('Water')
    await rows()[3]!.trigger('dblclick')
    expect(player.current.value?.label).toBe('Yeast')
  })

  it('is put in order by dragging', async () => {
    await rows()[3]!.trigger('dragstart')
    await rows()[0]!.trigger('dragover')
    expect(rows()[0]!.classes()).toContain('over')
    await rows()[0]!.trigger('drop')
    expect(labels()).toEqual(['Yeast', 'Flour', 'Salt', 'Water'])
    expect(shown!.findAll('.over, .held')).toHaveLength(0)
  })

  it('turns from no repeating to all, to one, and back', async () => {
    const button = shown!.find('[data-test=repeat]')
    const states = []
    for (let turn = 0; turn < 3; turn++) {
      await button.trigger('click')
      states.push([player.queue.value.repeat, button.attributes('aria-pressed')])
    }
    expect(states).toEqual([
      ['all', 'true'],
      ['one', 'true'],
      ['none', 'false'],
    ])
  })

  it('is told by its length, and closed by Escape', async () => {
    expect(shown!.find('header').text()).toContain('10:00')
    await shown!.find('section').trigger('keydown', { key: 'Escape' })
    expect(shown!.emitted('close')).toHaveLength(1)
  })
})
