import { VueQueryPlugin } from '@tanstack/vue-query'
import { flushPromises, mount } from '@vue/test-utils'
import { afterEach, describe, expect, it, vi } from 'vitest'
import { api } from '@/api/client'
import { lineAt } from '@/composables/lyrics'
import { i18n } from '@/i18n'
import LyricsSheet from '@/parts/LyricsSheet.vue'

const timed = (...moments: (number | null)[]) => moments.map((at_seconds) => ({ at_seconds }))

describe('the line that is sung', () => {
  it('is the last one that has begun', () => {
    const lines = timed(1, 4.5, 4.5, 9)
    expect([0, 0.99, 1, 4.4, 4.5, 8.9, 9, 500].map((now) => lineAt(lines, now))).toEqual([
      -1, -1, 0, 0, 2, 2, 3, 3,
    ])
    expect(lineAt([], 5)).toBe(-1)
  })
})

describe('the sheet', () => {
  afterEach(() => vi.restoreAllMocks())
  const told = {
    lines: [
      { text: 'Grey sand under', at_seconds: 1 },
      { text: '', at_seconds: 3 },
      { text: 'a grey-blue hull', at_seconds: 5 },
    ],
    is_timed: true,
    text: '[00:01.00]Grey sand under',
    origin: 'sidecar',
    may_write: true,
  }
  async function shown(data: unknown, now = 0) {
    vi.spyOn(api, 'GET').mockResolvedValue({ data, response: new Response() } as never)
    const wrapper = mount(LyricsSheet, {
      props: { entryId: 7, title: 'Marl', now },
      global: {
        plugins: [i18n, VueQueryPlugin],
        stubs: { 'el-button': { template: '<button><slot/></button>' } },
      },
    })
    await flushPromises()
    return wrapper
  }
  it('marks what is sung, and goes where one points', async () => {
    const sheet = await shown(told, 2)
    expect(sheet.find('[aria-current]').text()).toBe('Grey sand under')
    await sheet.setProps({ now: 5.2 })
    expect(sheet.find('[aria-current]').text()).toBe('a grey-blue hull')
    await sheet.findAll('li button')[0]!.trigger('click')
    expect(sheet.emitted('seek')).toEqual([[1]])
  })
  it('has no marks and no buttons where no moment is known', async () => {
    const lines = told.lines.map((line) => ({ ...line, at_seconds: null }))
    const sheet = await shown({ ...told, lines, is_timed: false, may_write: false }, 5)
    expect(sheet.findAll('li button, [aria-current], footer')).toEqual([])
    expect(sheet.text()).toContain('a grey-blue hull')
  })
  it('says so where there are none, and lets them be written', async () => {
    const put = vi
      .spyOn(api, 'PUT')
      .mockResolvedValue({ data: { done: true }, response: new Response() } as never)
    const sheet = await shown({ ...told, lines: [], is_timed: false, text: '', origin: '' })
    expect(sheet.text()).toContain(i18n.global.t('lyrics.none'))
    await sheet.get('[data-test=lyrics-write]').trigger('click')
    await sheet.get('textarea').setValue(' By hand\nand pen ')
    await sheet.get('form').trigger('submit')
    await flushPromises()
    expect(put.mock.calls[0]![1]).toMatchObject({
      params: { path: { entry_id: 7, field: 'lyrics' } },
      body: { value: 'By hand\nand pen' },
    })
    expect(sheet.find('textarea').exists()).toBe(false)
  })
  it('closes by Escape', async () => {
    const sheet = await shown(told)
    await sheet.trigger('keydown', { key: 'Escape' })
    expect(sheet.emitted('close')).toHaveLength(1)
  })
})
