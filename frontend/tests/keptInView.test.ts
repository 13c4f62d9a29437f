import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import { defineComponent, h, nextTick, ref } from 'vue'
import { useKeptInView } from '@/composables/useKeptInView'

/** What a layout would say; there is none in tests. */
function measured(element: Element, sizes: Record<string, number>): void {
  for (const [name, value] of Object.entries(sizes))
    Object.defineProperty(element, name, { value, configurable: true })
}

const PLACES = ['today', 'names', 'catalog', 'house']
const Row = defineComponent({
  props: { here: { type: String, required: true }, width: { type: Number, default: 200 } },
  setup(props) {
    const row = ref<HTMLElement>()
    useKeptInView(row, () => props.here)
    return () =>
      h(
        'nav',
        {
          ref: (found) => {
            row.value = found as HTMLElement
            if (!row.value) return
            measured(row.value, { scrollWidth: 400, clientWidth: props.width, offsetLeft: 10 })
            for (const [at, link] of [...row.value.children].entries())
              measured(link, { offsetLeft: 10 + at * 100, offsetWidth: 100 })
          },
        },
        PLACES.map((place) =>
          h('a', { 'aria-current': place === props.here ? 'page' : undefined }, place),
        ),
      )
  },
})

describe('a row that is wider than the screen', () => {
  it('shows the place where one is in its middle, also when that changes', async () => {
    const row = mount(Row, { props: { here: 'catalog' } })
    await nextTick()
    await nextTick()
    expect(row.element.scrollLeft).toBe(150)
    await row.setProps({ here: 'names' })
    await nextTick()
    expect(row.element.scrollLeft).toBe(50)
  })
  it('is left alone where all of it can be seen, or where one is nowhere in it', async () => {
    const wide = mount(Row, { props: { here: 'catalog', width: 400 } })
    const nowhere = mount(Row, { props: { here: 'play' } })
    await nextTick()
    await nextTick()
    expect([wide.element.scrollLeft, nowhere.element.scrollLeft]).toEqual([0, 0])
  })
})
