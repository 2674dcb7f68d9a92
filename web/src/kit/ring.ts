/** Three short notes. A browser that plays nothing before it was touched stays silent. */
export function ring() {
  const sound = new AudioContext()
  for (let i = 0; i < 3; i++) {
    const note = sound.createOscillator()
    const loud = sound.createGain()
    note.frequency.value = 880
    loud.gain.setValueAtTime(0.3, sound.currentTime + i * 0.5)
    loud.gain.exponentialRampToValueAtTime(0.001, sound.currentTime + i * 0.5 + 0.4)
    note.connect(loud).connect(sound.destination)
    note.start(sound.currentTime + i * 0.5)
    note.stop(sound.currentTime + i * 0.5 + 0.4)
  }
  setTimeout(() => void sound.close(), 2500)
}
