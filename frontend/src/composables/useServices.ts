/** What is done with one of several services, and what went wrong with which. */
import { useQueryClient } from '@tanstack/vue-query'
import { ElMessage, ElMessageBox } from 'element-plus'
import 'element-plus/es/components/message-box/style/css'
import { ref, type Ref } from 'vue'
import { useI18n } from 'vue-i18n'

interface Service {
  id: number
  name: string
}

export interface Services {
  problem: Ref<{ id: number; error: unknown } | undefined>
  /** The list is asked for again. */
  refresh: () => Promise<void>
  /** Do something with a service; whether it went well. */
  act: (service: Service, work: () => Promise<unknown>) => Promise<boolean>
  /** The same, and what the server says of it is shown. */
  tell: (service: Service, work: () => Promise<{ message: string }>) => Promise<boolean>
  /** The same, once a person has said that they mean it. */
  forget: (service: Service, words: string, work: () => Promise<unknown>) => Promise<boolean>
}

/** `list`: the key of the question whose answer is the list. */
export function useServices(list: string): Services {
  const { t } = useI18n()
  const client = useQueryClient()
  const problem = ref<{ id: number; error: unknown }>()
  const refresh = () => client.invalidateQueries({ queryKey: [list] })
  async function act(service: Service, work: () => Promise<unknown>): Promise<boolean> {
    problem.value = undefined
    await work().catch((error: unknown) => (problem.value = { id: service.id, error }))
    await refresh()
    return problem.value === undefined
  }
  return {
    problem,
    refresh,
    act,
    tell: (service, work) =>
      act(service, async () => {
        const { message } = await work()
        ElMessage({ message, type: 'success', duration: 5000 })
      }),
    async forget(service, words, work) {
      const buttons = {
        confirmButtonText: t('house.forget'),
        cancelButtonText: t('house.cancel'),
      }
      const isMeant = await ElMessageBox.confirm(words, t('house.forget'), buttons).then(
        () => true,
        () => false,
      )
      return isMeant && (await act(service, work))
    },
  }
}
