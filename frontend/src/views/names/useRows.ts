import { computed, type ComputedRef, type Ref } from 'vue'
import type { Finding } from '@/api/client'

/** What a finding would do, as a key: findings of one file with the same cure are one row with several reasons. */
function cureOf(finding: Finding): string {
  const moves = finding.moves.filter((move) => move.after).map((move) => [move.before, move.after])
  return moves.length ? JSON.stringify([finding.library_id, moves]) : `alone ${finding.id}`
}

/** Rows of a list of findings: the first of those with one cure stands for all of them. */
export function useRows(shown: Ref<Finding[]> | ComputedRef<Finding[]>) {
  const byCure = computed(() => {
    const found = new Map<string, Finding[]>()
    for (const finding of shown.value) {
      const cure = cureOf(finding)
      found.set(cure, [...(found.get(cure) ?? []), finding])
    }
    return found
  })
  const rows = computed(() => [...byCure.value.values()].map((alike) => alike[0]!))
  const partners = (finding: Finding): Finding[] => byCure.value.get(cureOf(finding)) ?? [finding]
  return { rows, partners }
}
