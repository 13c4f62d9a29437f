import { createI18n } from 'vue-i18n'
import { de } from './locales/de'
import { en } from './locales/en'

export const LANGUAGES = { en: 'English', de: 'Deutsch' } as const

export const i18n = createI18n({
  legacy: false,
  locale: 'en',
  fallbackLocale: 'en',
  messages: { en, de },
})

/** Speak this language from now on, if it is one that is spoken here. */
export function speak(language: string): void {
  if (language === 'en' || language === 'de') {
    i18n.global.locale.value = language
    document.documentElement.lang = language
  }
}
