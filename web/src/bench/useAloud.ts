import { useEffect, useState } from 'react'
import { remembered } from './device'

/** Reads what is to be done aloud, with the browser's own voice, where that was switched on on this device. */
export function useAloud(text: string | undefined) {
  const can = 'speechSynthesis' in window
  const [on, setOn] = useState(() => can && remembered.get('aloud'))
  const speak = (what: string) => {
    speechSynthesis.cancel()
    const says = new SpeechSynthesisUtterance(what)
    says.lang = 'en'
    speechSynthesis.speak(says)
  }
  useEffect(() => {
    if (on && text) speak(text)
  }, [on, text])
  useEffect(() => () => (can ? speechSynthesis.cancel() : undefined), [can])
  return {
    can,
    on,
    again: () => text && can && speak(text),
    set: (now: boolean) => {
      remembered.set('aloud', now)
      setOn(now)
      if (!now && can) speechSynthesis.cancel()
    },
  }
}
