/** What a person has decided of findings before a plan is made of them: accepted, skipped, written otherwise. */
import { computed, reactive, type ComputedRef } from 'vue'
import type { Finding } from '@/api/client'

export type Choice = 'accept' | 'skip'

/** A finding as far as a choice needs it: of those beyond the first page no more is known. */
export type Chosen = Pick<Finding, 'id' | 'library_id'> & Partial<Pick<Finding, 'moves'>>

export interface Choices {
  of: (finding: Chosen) => Choice | undefined
  set: (finding: Chosen, choice: Choice | undefined) => void
  /** The new name of a file, as proposed or as a person wrote it. */
  after: (before: string, proposed: string) => string
  /** Another name for the first file of a finding; what belongs to it follows. */
  write: (finding: Finding, after: string) => void
  edits: Record<string, string>
  accepted: ComputedRef<Chosen[]>
  /** How many files all that is accepted would move; 0 where that is not known of every one. */
  moving: ComputedRef<number>
  /** Forget choices of findings that an earlier check made: library → the least id of what it has now. */
  prune: (since: Record<string, number>) => void
  clear: () => void
}

const choices = reactive(new Map<number, { choice: Choice; of: Chosen }>())
const edits = reactive<Record<string, string>>({})

function split(path: string): { folder: string; stem: string } {
  const slash = path.lastIndexOf('/')
  const dot = path.lastIndexOf('.')
  return { folder: path.slice(0, slash + 1), stem: dot > slash ? path.slice(0, dot) : path }
}

/** The paths of what belongs to a file, when the file itself gets another name than was proposed. */
export function followers(
  moves: readonly { before: string; after: string | null }[],
  written: string,
): Record<string, string> {
  const [main, ...rest] = moves
  if (!main?.after) return {}
  const [was, is] = [split(main.after), split(written)]
  const found: Record<string, string> = { [main.before]: written }
  for (const move of rest) {
    if (!move.after) continue
    if (move.after.startsWith(was.stem))
      found[move.before] = is.stem + move.after.slice(was.stem.length)
    else if (was.folder && move.after.startsWith(was.folder))
      found[move.before] = is.folder + move.after.slice(was.folder.length)
  }
  return found
}

const accepted = computed(() =>
  [...choices.values()].filter(({ choice }) => choice === 'accept').map(({ of }) => of),
)

export function useChoices(): Choices {
  return {
    of: (finding) => choices.get(finding.id)?.choice,
    set: (finding, choice) =>
      void (choice ? choices.set(finding.id, { choice, of: finding }) : choices.delete(finding.id)),
    after: (before, proposed) => edits[before] ?? proposed,
    write: (finding, after) => {
      Object.assign(edits, followers(finding.moves, after))
      choices.set(finding.id, { choice: 'accept', of: finding })
    },
    edits,
    accepted,
    moving: computed(() => {
      if (accepted.value.some((finding) => !finding.moves)) return 0
      return new Set(
        accepted.value.flatMap((f) =>
          (f.moves ?? []).filter((m) => m.after).map((m) => `${f.library_id}/${m.before}`),
        ),
      ).size
    }),
    prune: (since) => {
      for (const [id, { of }] of choices)
        if (id < (since[of.library_id] ?? Infinity)) choices.delete(id)
    },
    clear: () => {
      choices.clear()
      for (const key of Object.keys(edits)) delete edits[key]
    },
  }
}
