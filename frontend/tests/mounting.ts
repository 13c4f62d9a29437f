/** What views are mounted with in tests: words, ways, a server that answers as it is told, questions that are asked once. */
import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { mount, type VueWrapper } from '@vue/test-utils'
import { vi } from 'vitest'
import type { Plugin } from 'vue'
import { createMemoryHistory, createRouter, type Router } from 'vue-router'
import { api } from '@/api/client'
import { i18n } from '@/i18n'

export function pluginsWith(router: Router): (Plugin | [Plugin, ...unknown[]])[] {
  const queryClient = new QueryClient({ defaultOptions: { queries: { retry: false } } })
  return [i18n, router, [VueQueryPlugin, { queryClient }]]
}

/** A part by itself in the document, with ways that lead nowhere; the test takes it out again. */
export function mountAlone(part: object, props: object = {}): VueWrapper {
  const router = createRouter({
    history: createMemoryHistory(),
    routes: [{ path: '/:rest(.*)*', component: { template: '<i/>' } }],
  })
  return mount(part, {
    props,
    global: { plugins: pluginsWith(router) },
    attachTo: document.body,
  })
}

export interface Asked {
  body?: unknown
  params?: { path?: Record<string, unknown>; query?: Record<string, unknown> }
}
export interface Call {
  method: string
  path: string
  asked?: Asked
}

/**
 * Answers questions by `method path`, by path, else with `ok`; an answer may be made of what was asked, may come later, and an
 * error is one that the server says. All that was asked is told, and what of it asked for a change, in their order.
 */
export function answerAs(answers: () => Record<string, unknown>): {
  asked: Call[]
  changes: Call[]
} {
  const told: { asked: Call[]; changes: Call[] } = { asked: [], changes: [] }
  for (const method of ['GET', 'POST', 'PUT', 'PATCH', 'DELETE'] as const)
    vi.spyOn(api, method).mockImplementation((async (path: string, asked?: Asked) => {
      const call = { method, path, asked }
      told.asked.push(call)
      if (method !== 'GET') told.changes.push(call)
      const found = answers()[`${method} ${path}`] ?? answers()[path]
      const answer: unknown = await (typeof found === 'function'
        ? (found as (a?: Asked) => unknown)(asked)
        : found)
      if (answer instanceof Error)
        return {
          error: { reference: 'x', message: answer.message, hint: '' },
          response: new Response(null, { status: 404 }),
        }
      return { data: answer ?? { ok: true }, response: new Response() }
    }) as never)
  return told
}
