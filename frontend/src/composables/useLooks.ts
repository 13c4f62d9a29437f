/** How it looks for who is signed in: light or dark, how large cards are, and what they show. */
import { usePreferredDark } from '@vueuse/core'
import { computed, watchEffect, type ComputedRef } from 'vue'
import type { components } from '@/api/schema'
import { useStatus } from './useStatus'

export type Looks = components['schemas']['Status.LooksOut']
export const DEFAULT_LOOKS: Looks = { theme: 'system', cards: 'medium', hides: [] }
/** So much narrower or wider cards are than by default. */
const FACTORS = { small: 0.76, medium: 1, large: 1.45 } as const

/** What holds now; before somebody is signed in, what the system wants. */
export function useLooks(): { looks: ComputedRef<Looks>; cardFactor: ComputedRef<number> } {
  const { data: status } = useStatus()
  const looks = computed(() => status.value?.looks ?? DEFAULT_LOOKS)
  return { looks, cardFactor: computed(() => FACTORS[looks.value.cards]) }
}

/** Have the whole document follow; called once, by the application. */
export function followLooks(): void {
  const { looks } = useLooks()
  const isDarkOutside = usePreferredDark()
  watchEffect(() => {
    const { theme, cards, hides } = looks.value
    const isDark = theme === 'dark' || (theme === 'system' && isDarkOutside.value)
    const root = document.documentElement
    root.dataset.theme = isDark ? 'dark' : 'light'
    root.dataset.cards = cards
    root.dataset.hides = hides.join(' ')
  })
}
