import { useEffect } from 'react'

/** Keeps the screen awake while there is work on the bench. */
export function useAwake(on: boolean) {
  useEffect(() => {
    if (!on || !('wakeLock' in navigator)) return
    let lock: WakeLockSentinel | undefined
    let gone = false
    const hold = () => {
      if (document.visibilityState !== 'visible') return
      navigator.wakeLock.request('screen').then(
        (l) => (gone ? void l.release() : (lock = l)),
        () => {}, // a browser may refuse, on a low battery for example: the screen then sleeps as usual
      )
    }
    hold()
    document.addEventListener('visibilitychange', hold)
    return () => {
      gone = true
      document.removeEventListener('visibilitychange', hold)
      void lock?.release()
    }
  }, [on])
}
