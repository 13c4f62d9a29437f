/** Who is signed in, and how much waits where. */
import { useQuery } from '@tanstack/vue-query'
import { api, ask, useToken } from '@/api/client'

export async function fetchStatus() {
  const status = await ask(api.GET('/api/status'))
  useToken(status.csrf, status.person_id ?? null)
  return status
}

export function useStatus() {
  return useQuery({ queryKey: ['status'], queryFn: fetchStatus, staleTime: 30_000 })
}
