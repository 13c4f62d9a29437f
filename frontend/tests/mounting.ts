/** What views are mounted with in tests: words, ways, and questions that are asked once. */
import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import type { Plugin } from 'vue'
import type { Router } from 'vue-router'
import { i18n } from '@/i18n'

export function pluginsWith(router: Router): (Plugin | [Plugin, ...unknown[]])[] {
  const queryClient = new QueryClient({ defaultOptions: { queries: { retry: false } } })
  return [i18n, router, [VueQueryPlugin, { queryClient }]]
}
