/** Looking and choosing: pictures large, copies side by side, a template that is written. */
import { flushPromises, type VueWrapper } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { comeBy, type EntryCard, type Twin } from '@/api/client'
import LightTable from '@/parts/LightTable.vue'
import TemplateField from '@/views/conventions/TemplateField.vue'
import TwinCard from '@/views/twice/TwinCard.vue'
import { answerAs, mountAlone, type Call } from './mounting'

vi.mock('element-plus', () => ({
  ElMessage: vi.fn(),
  ElButton: { template: '<button type="button"><slot/></button>' },
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
  comeBy('')
  document.body.innerHTML = ''
  vi.restoreAllMocks()
})

const put = (part: object, props: object = {}) => (shown = mountAlone(part, props))

describe('the light table', () => {
  const picture = (digest: string) => ({ digest, width: 400, height: 300, blur: 'data:,' })
  const cards = ['a', 'b', 'c'].map((name, n) => ({
    ...{ id: n + 1, kind: 'photo', title: `Shot ${name}`, subtitle: '', state: 'settled' },
    ...{ moment: '2019-07-0' + (n + 1), picture: picture(name), mark: null, moves: n === 1 },
  })) as unknown as EntryCard[]
  const press = async (key: string, target: EventTarget = window, more: object = {}) => {
    target.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, ...more }))
    await flushPromises()
  }
  const image = () => shown!.find('figure img')
  function open(at = 0): VueWrapper {
    const view = put(LightTable, {
      entries: cards,
      at,
      'onUpdate:at': (next: number) => void shown!.setProps({ at: next }),
    })
    return view
  }

  it('has the focus, and gives it back to what had it', () => {
    const before = document.createElement('button')
    document.body.append(before)
    before.focus()
    open()
    expect(document.activeElement).toBe(shown!.find('[role=dialog]').element)
    shown!.unmount()
    expect(document.activeElement).toBe(before)
  })

  it('goes on and back by arrows and letters, and stays at both ends', async () => {
    open()
    const seen: string[] = []
    for (const key of ['ArrowLeft', 'ArrowRight', 'j', 'j', 'k']) {
      await press(key)
      seen.push(image().attributes('alt')!)
    }
    expect(seen).toEqual(['Shot a', 'Shot b', 'Shot c', 'Shot c', 'Shot b'])
  })

  it('leaves keys alone that belong to somebody else', async () => {
    open()
    const field = document.createElement('input')
    document.body.append(field)
    await press('j', field)
    await press('j', window, { ctrlKey: true })
    expect(image().attributes('alt')).toBe('Shot a')
  })

  it('shows the file itself from near, where arrows look around and do not go on', async () => {
    answers = { '/api/entries/{entry_id}': { card: cards[0], shot: { file_id: 77 } } }
    open()
    expect(image().attributes('src')).toBe('/api/pictures/a/1280')
    await press('z')
    await flushPromises()
    expect(image().attributes('src')).toBe('/api/files/77/content')
    await press('ArrowRight')
    expect(image().attributes('alt')).toBe('Shot a')
    await press('Escape')
    expect(image().attributes('src')).toBe('/api/pictures/a/1280')
    expect(shown!.emitted('close')).toBeUndefined()
    await press('Escape')
    expect(shown!.emitted('close')).toHaveLength(1)
  })

  it('turns a picture by quarters, which the next one does not know of', async () => {
    open()
    await press('r')
    expect(image().attributes('style')).toContain('rotate: 90deg')
    expect(image().classes()).toContain('lying')
    await press('r')
    expect(image().classes()).not.toContain('lying')
    await press('ArrowRight')
    expect(image().attributes('style')).not.toContain('rotate')
  })

  it('marks a favourite and takes it back, though the list it came from is older', async () => {
    open()
    await press('f')
    await press('f')
    expect(told.changes.map((call) => call.asked?.body)).toMatchObject([
      { entry_ids: [1], favourite: true },
      { entry_ids: [1], favourite: false },
    ])
  })

  it('marks nothing and asks for nothing for who comes by a link', async () => {
    comeBy('KEY')
    open()
    await press('f')
    await press('i')
    expect(image().attributes('src')).toBe('/api/shared/KEY/pictures/a/1280')
    expect(told.asked).toEqual([])
    expect(shown!.find('figcaption a').exists()).toBe(false)
  })
})

describe('copies side by side', () => {
  const file = (id: number, path: string, more: object = {}) => ({
    ...{ id, path, library: 'Films', kind: 'movie', quality: '1920 × 1080', picture: null },
    ...more,
  })
  const twin = (more: object = {}): Twin =>
    ({
      ...{ id: 5, kind: 'same-work', why: 'More pixels' },
      files: [file(1, 'Kiln (1988)/kiln.mkv'), file(2, 'old/kiln.avi')],
      ...more,
    }) as unknown as Twin
  const open = (more: object = {}, keep = 1) =>
    put(TwinCard, { twin: twin(more), keep, chosen: false, at: false })

  it('say why the first is the better one, in words of their own', () => {
    expect(open().find('header').text()).toMatch(/more pixels/i)
  })

  it('say of the same bytes what else tells them apart', () => {
    const said = open({ kind: 'same-bytes', why: 'Same bytes, tidier name' }).find('header').text()
    expect(said).toMatch(/same bytes, .*tidier name/i)
    expect(said).not.toContain('twice.because')
  })

  it('keep the one that is chosen, and say what becomes of the other', async () => {
    const card = open()
    const rows = () => card.findAll('.files label')
    expect(rows().map((row) => row.classes('kept'))).toEqual([true, false])
    expect(rows()[1]!.text()).toContain('Films / old')
    await rows()[1]!.find('[type=radio]').trigger('change')
    expect(card.emitted('keep')).toEqual([[2]])
    await card.setProps({ keep: 2 })
    expect(rows().map((row) => row.classes('kept'))).toEqual([false, true])
  })

  it('are wiped over each other where they are pictures, and only there', async () => {
    const picture = { digest: 'x', width: 4, height: 3, blur: 'data:,' }
    const files = [1, 2].map((id) => file(id, `${id}.jpg`, { kind: 'photo', picture }))
    const card = open({ kind: 'near-picture', why: 'More pixels', files })
    const button = card.find('[aria-expanded]')
    await button.trigger('click')
    expect(button.attributes('aria-expanded')).toBe('true')
    await button.trigger('click')
    expect(button.attributes('aria-expanded')).toBe('false')
    shown!.unmount()
    expect(open().find('[aria-expanded]').exists()).toBe(false)
  })

  it('are not the same where a person says so', async () => {
    const card = open()
    await card.find('.acts .link').trigger('click')
    expect(card.emitted('distinct')).toHaveLength(1)
  })
})

describe('a template that is written', () => {
  const values = ['title', 'year', 'series', 'artist', 'resolution']
  const open = (more: object = {}) =>
    put(TemplateField, {
      ...{ modelValue: '{{ title }}.mkv', slotName: 'movie', samples: [], values },
      ...{ filters: ['letter', 'pad(2)'], ...more },
      'onUpdate:modelValue': (text: string) => void shown!.setProps({ modelValue: text }),
    })
  const area = () => shown!.find('textarea').element as HTMLTextAreaElement

  it('offers what fits its kind of file once one writes in it', async () => {
    const field = open()
    expect(field.find('.chips').exists()).toBe(false)
    await field.find('textarea').trigger('focus')
    const chips = field.findAll('.chip:not(.filter)').map((chip) => chip.text())
    expect(chips).toEqual(['title', 'year', 'resolution'])
    expect(field.findAll('.filter').map((chip) => chip.text())).toEqual(['letter', 'pad(2)'])
  })

  it('takes a value where the cursor stands, and writes on behind it', async () => {
    const field = open()
    await field.find('textarea').trigger('focus')
    area().setSelectionRange(11, 11)
    await field.findAll('.chip')[1]!.trigger('click')
    await flushPromises()
    expect(area().value).toBe('{{ title }}{{ year }}.mkv')
    expect([document.activeElement === area(), area().selectionStart]).toEqual([true, 21])
  })

  it('replaces what is chosen', async () => {
    const field = open()
    await field.find('textarea').trigger('focus')
    area().setSelectionRange(0, 11)
    await field.findAll('.chip')[1]!.trigger('click')
    await flushPromises()
    expect(area().value).toBe('{{ year }}.mkv')
  })

  it('shows what names become, or what is wrong and in which line', async () => {
    const field = open({ samples: [{ before: 'kiln.mkv', after: 'Kiln.mkv' }] })
    expect(field.find('.sample').text()).toContain('Kiln.mkv')
    await field.setProps({ problem: { message: 'There is no value titel.', line: 2 } })
    expect(field.find('[role=alert]').text()).toMatch(/2.*no value titel/)
    expect(field.find('textarea').attributes('aria-invalid')).toBe('true')
    expect(field.find('.sample').exists()).toBe(false)
  })

  it('of a kind that is like another offers the same values', async () => {
    const field = open({ slotName: 'special' })
    await field.find('textarea').trigger('focus')
    expect(field.findAll('.chip:not(.filter)').map((chip) => chip.text())).toContain('series')
  })
})
