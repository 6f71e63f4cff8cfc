import { useEffect, useState } from 'react'

/** What the browser says of keeping the screen awake. */
export type Awake = 'on' | 'off' | 'cannot'

/** Keeps the screen awake while it is asked to and the page is seen, where the browser can. */
export function useAwake(wanted: boolean): Awake {
  const can = 'wakeLock' in navigator
  const [held, setHeld] = useState(false)
  useEffect(() => {
    if (!wanted || !can) return undefined
    let lock: WakeLockSentinel | undefined
    let over = false
    const ask = () => {
      if (document.visibilityState !== 'visible') return
      navigator.wakeLock.request('screen').then(
        (got) => {
          if (over) {
            void got.release()
            return
          }
          lock = got
          setHeld(true)
          got.addEventListener('release', () => {
            setHeld(false)
          })
        },
        // Low on battery, or not allowed here: the screen sleeps as it always does.
        () => {
          setHeld(false)
        },
      )
    }
    ask()
    // A page that is left loses its lock.
    document.addEventListener('visibilitychange', ask)
    return () => {
      over = true
      document.removeEventListener('visibilitychange', ask)
      void lock?.release()
    }
  }, [wanted, can])
  return !can ? 'cannot' : held ? 'on' : 'off'
}
