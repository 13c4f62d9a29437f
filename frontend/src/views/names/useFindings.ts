/** What checks have found, as the page of names asks for it: of all, of one check, or of one library. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { api, ask, type Finding } from '@/api/client'
import type { Chosen } from '@/composables/useChoices'
import { useRows } from './useRows'

export function useFindings() {
  const route = useRoute()
  const client = useQueryClient()
  const slug = computed(() =>
    typeof route.query.check === 'string' ? route.query.check : undefined,
  )
  const library = computed(() => (route.query.library ? Number(route.query.library) : undefined))
  const { data: libraries } = useQuery({
    queryKey: ['libraries'],
    queryFn: () => ask(api.GET('/api/libraries')),
  })
  const { data, error, refetch } = useQuery({
    queryKey: ['findings', slug, library],
    queryFn: () =>
      ask(
        api.GET('/api/findings', {
          params: { query: { check: slug.value, library_id: library.value } },
        }),
      ),
    placeholderData: (before) => before,
  })
  const checks = computed(() => (data.value?.checks ?? []).filter((one) => one.count))
  const check = computed(() => (data.value?.checks ?? []).find((c) => c.slug === slug.value))
  const rank = computed(() =>
    Object.fromEntries((data.value?.checks ?? []).map((c, place) => [c.slug, place])),
  )
  const titles = computed(() =>
    Object.fromEntries((data.value?.checks ?? []).map((c) => [c.slug, c.title])),
  )
  const names = computed(() =>
    Object.fromEntries((libraries.value?.libraries ?? []).map((l) => [l.id, l.name])),
  )
  const perLibrary = computed(() =>
    (libraries.value?.libraries ?? []).map((l) => ({
      ...l,
      count: data.value?.libraries[l.id] ?? 0,
    })),
  )
  const all = computed(() =>
    Object.values(data.value?.libraries ?? {}).reduce((sum, count) => sum + count, 0),
  )
  /** What was asked for before is shown until the answer is there, as far as it belongs here. */
  const shown = computed(() =>
    (data.value?.findings ?? [])
      .filter(
        (f) =>
          (!slug.value || f.check === slug.value) &&
          (!library.value || f.library_id === library.value),
      )
      .sort(
        (one, other) =>
          Number(!one.fix) - Number(!other.fix) ||
          (rank.value[one.check] ?? 0) - (rank.value[other.check] ?? 0),
      ),
  )
  const { rows, partners } = useRows(shown)
  /** Rows under the folder that they lie in. */
  const groups = computed(() => {
    const found = new Map<string, Finding[]>()
    for (const finding of rows.value) {
      const parts = finding.path.replace(/\/$/, '').split('/')
      const place = [
        names.value[finding.library_id] ?? '',
        ...(finding.path.endsWith('/') ? parts : parts.slice(0, -1)),
      ].join(' / ')
      found.set(place, [...(found.get(place) ?? []), finding])
    }
    return [...found]
  })
  const ordered = computed(() => groups.value.flatMap(([, findings]) => findings))
  /** All that is asked for and has a safe cure, also beyond what is shown. */
  async function mendable(): Promise<Chosen[]> {
    const asked = { check: slug.value, library_id: library.value }
    const { findings } = await ask(api.GET('/api/findings/safe', { params: { query: asked } }))
    return Object.entries(findings).flatMap(([id, all]) =>
      all.map((one) => ({ id: one, library_id: Number(id) })),
    )
  }
  async function excuse(finding: Finding | undefined): Promise<void> {
    if (!finding) return
    await ask(
      api.POST('/api/findings/{finding_id}/excuse', {
        params: { path: { finding_id: finding.id } },
      }),
    ).catch(() => undefined)
    await client.invalidateQueries({ queryKey: ['findings'] })
  }
  return {
    ...{ slug, library, libraries, data, error, refetch, checks, check, titles, names },
    ...{ perLibrary, all, shown, partners, groups, ordered, excuse, mendable },
  }
}
