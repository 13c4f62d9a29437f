/** How loud and how fast something plays, and whether it can go to another screen: kept for the next element, too. */
import { useLocalStorage } from '@vueuse/core'
import { ref, type Ref } from 'vue'

const [SLOWEST, FASTEST] = [0.25, 3]

export interface Output {
  /** From 0 to 1. */
  volume: Ref<number>
  /** 1: as it was made. */
  speed: Ref<number>
  canCast: Ref<boolean>
  /** How loud is set when the element is there; how fast only when it has something to play. */
  begin: () => void
  goOn: () => void
  loud: (share: number) => void
  mute: () => void
  unmute: () => void
  pace: (rate: number) => void
}

/** `isMuted`: whether the browser lets it begin without sound only, which is asked about. */
export function useOutput(
  media: Readonly<Ref<HTMLMediaElement | null>>,
  isMuted: Ref<boolean>,
): Output {
  const volume = useLocalStorage('indice.volume', 1)
  const speed = ref(1)
  const canCast = ref(false)
  const unmute = () => {
    isMuted.value = false
    if (media.value) media.value.muted = false
  }
  return {
    volume,
    speed,
    canCast,
    begin: () => {
      if (media.value) media.value.volume = volume.value
    },
    goOn: () => {
      if (!media.value) return
      media.value.playbackRate = speed.value
      media.value.remote
        ?.watchAvailability((is) => (canCast.value = is))
        .catch(() => (canCast.value = false))
    },
    loud: (share) => {
      volume.value = Math.min(Math.max(share, 0), 1)
      if (media.value) media.value.volume = volume.value
      unmute()
    },
    mute: () => {
      if (media.value) media.value.muted = !media.value.muted
      isMuted.value = false
    },
    unmute,
    pace: (rate) => {
      speed.value = Math.min(Math.max(rate, SLOWEST), FASTEST)
      if (media.value) media.value.playbackRate = speed.value
    },
  }
}
