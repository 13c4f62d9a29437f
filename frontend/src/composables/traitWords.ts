/** Traits of a shelf in words: `decade:1990` is 1990–1999, `sound:de` is German. */
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { country } from './words'

export function useTraitWords() {
  const { t, te, locale } = useI18n()
  const names = computed(() => new Intl.DisplayNames([locale.value], { type: 'language' }))
  function say(group: string, value: string, label = ''): string {
    if (label) return label
    if (group === 'near') return t('map.chosen')
    if (group === 'country') return country(value, locale.value)
    if (group === 'library') return t('narrow.group.library')
    if (group === 'decade') return `${value}–${Number(value) + 9}`
    if (group === 'age') return t('page.fromAge', { n: Number(value) })
    if (group === 'sound' || group === 'text') {
      try {
        return names.value.of(value) ?? value
      } catch {
        return value
      }
    }
    const key = `narrow.${group}.${value}`
    return te(key) ? t(key) : value
  }
  return { say }
}

/** Traits as the address and the server write them, one by one. */
export function traitsOf(told: string): { group: string; value: string }[] {
  return told
    .split('|')
    .filter(Boolean)
    .map((one) => {
      const [group = '', ...rest] = one.split(':')
      return { group, value: rest.join(':') }
    })
}
