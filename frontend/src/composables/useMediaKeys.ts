/** Keys of keyboards and headphones, and the lock screen, know what plays. */
import { onBeforeUnmount, watch, type Ref } from 'vue'
import { at, type Playback } from '@/api/client'

interface Acts {
  toggle: () => void
  seek: (by: number) => void
  next: () => void
  previous?: () => void
}

export function useMediaKeys(told: Ref<Playback | undefined>, acts: Acts): void {
  const session = 'mediaSession' in navigator ? navigator.mediaSession : undefined
  if (!session) return
  const handlers: Partial<Record<MediaSessionAction, () => void>> = {
    play: acts.toggle,
    pause: acts.toggle,
    seekbackward: () => acts.seek(-10),
    seekforward: () => acts.seek(10),
    nexttrack: acts.next,
    ...(acts.previous && { previoustrack: acts.previous }),
  }
  for (const [name, handler] of Object.entries(handlers))
    session.setActionHandler(name as MediaSessionAction, handler)
  watch(told, (what) => {
    if (!what || !('MediaMetadata' in window)) return
    const picture = what.picture && at(`pictures/${what.picture.digest}/480`)
    session.metadata = new MediaMetadata({
      title: what.title,
      artist: what.subtitle,
      artwork: picture ? [{ src: picture, type: 'image/webp' }] : [],
    })
  })
  onBeforeUnmount(() => {
    session.metadata = null
    for (const name of Object.keys(handlers))
      session.setActionHandler(name as MediaSessionAction, null)
  })
}
