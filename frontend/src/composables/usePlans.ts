/** Plans: drafted from what was accepted, carried out, watched, taken back. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch, type ComputedRef, type Ref } from 'vue'
import { api, ask, type Job, type Plan } from '@/api/client'
import type { Chosen } from '@/composables/useChoices'

export interface UsePlans {
  plans: Ref<Plan[]>
  jobs: ComputedRef<Job[]>
  busy: ComputedRef<boolean>
  error: Ref<Error | undefined>
  draft: (findings: readonly Chosen[], edits: Record<string, string>) => Promise<void>
  draftWhole: (libraryId: number, below: string) => Promise<void>
  draftWriting: (libraryId: number) => Promise<void>
  draftBin: (choices: { group: number; keep: number }[]) => Promise<void>
  /** A plan that was drafted elsewhere. */
  take: (plan: Plan) => void
  apply: () => Promise<void>
  undo: () => Promise<void>
  close: () => void
}

export function usePlans(): UsePlans {
  const client = useQueryClient()
  const plans = ref<Plan[]>([])
  const started = ref<number[]>([])
  const error = ref<Error>()
  const { data } = useQuery({ queryKey: ['jobs'], queryFn: () => ask(api.GET('/api/jobs')) })
  const jobs = computed(() =>
    (data.value?.jobs ?? []).filter((job) => started.value.includes(job.id)),
  )
  const busy = computed(
    () =>
      started.value.length > jobs.value.length ||
      jobs.value.some((job) => ['queued', 'running'].includes(job.state)),
  )
  const attempt = async (work: () => Promise<void>): Promise<void> => {
    error.value = undefined
    try {
      await work()
    } catch (reason) {
      error.value = reason as Error
    }
  }
  const body = (libraryId: number) => ({
    library_id: libraryId,
    findings: [] as number[],
    edits: {},
    below: null as string | null,
  })
  const draft: UsePlans['draft'] = (findings, edits) =>
    attempt(async () => {
      const libraries = [...new Set(findings.map((finding) => finding.library_id))]
      const asked = libraries.map((id) =>
        ask(
          api.POST('/api/plans', {
            body: {
              ...body(id),
              edits,
              findings: findings.filter((f) => f.library_id === id).map((f) => f.id),
            },
          }),
        ),
      )
      plans.value = await Promise.all(asked)
      started.value = []
    })
  const draftWhole: UsePlans['draftWhole'] = (libraryId, below) =>
    attempt(async () => {
      plans.value = [await ask(api.POST('/api/plans', { body: { ...body(libraryId), below } }))]
      started.value = []
    })
  const draftWriting: UsePlans['draftWriting'] = (libraryId) =>
    attempt(async () => {
      plans.value = [await ask(api.POST('/api/plans/writing', { body: { library_id: libraryId } }))]
      started.value = []
    })
  const draftBin: UsePlans['draftBin'] = (choices) =>
    attempt(async () => {
      const made = await ask(api.POST('/api/duplicates/bin', { body: { choices } }))
      plans.value = await Promise.all(
        made.plans.map((id) =>
          ask(api.GET('/api/plans/{plan_id}', { params: { path: { plan_id: id } } })),
        ),
      )
      started.value = []
    })
  async function reload(): Promise<void> {
    plans.value = await Promise.all(
      plans.value.map((plan) =>
        ask(api.GET('/api/plans/{plan_id}', { params: { path: { plan_id: plan.id } } })),
      ),
    )
  }
  const start = (act: (plan: Plan) => Promise<{ job_id: number }>) =>
    attempt(async () => {
      if (busy.value) return
      const asked = await Promise.all(plans.value.map(act))
      started.value = asked.map((answer) => answer.job_id)
      await client.invalidateQueries({ queryKey: ['jobs'] })
      await reload()
    })
  const at = (plan: Plan) => ({ params: { path: { plan_id: plan.id } } })
  const apply = () => start((plan) => ask(api.POST('/api/plans/{plan_id}/apply', at(plan))))
  const undo = () =>
    start((plan) =>
      ask(api.POST('/api/plans/{plan_id}/undo', { ...at(plan), body: { only: null } })),
    )
  watch(busy, (now, was) => {
    if (was && !now && plans.value.length)
      void attempt(reload).then(() => client.invalidateQueries({ queryKey: ['findings'] }))
  })
  return {
    plans,
    jobs,
    busy,
    error,
    draft,
    draftWhole,
    draftWriting,
    draftBin,
    take: (plan) => ((plans.value = [plan]), (started.value = [])),
    apply,
    undo,
    close: () => ((plans.value = []), (started.value = [])),
  }
}
