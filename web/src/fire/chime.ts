let audio: AudioContext | null = null

/** Two tones for a look, four for an alarm. A browser lets it sound once a hand has touched the page. */
export function chime(grave: boolean) {
  audio ??= new AudioContext()
  void audio.resume()
  const tones = grave ? [880, 660, 880, 660] : [660, 880]
  tones.forEach((hz, i) => {
    const at = audio!.currentTime + i * 0.28
    const tone = audio!.createOscillator()
    const loud = audio!.createGain()
    tone.frequency.value = hz
    loud.gain.setValueAtTime(0.0001, at)
    loud.gain.exponentialRampToValueAtTime(0.4, at + 0.03)
    loud.gain.exponentialRampToValueAtTime(0.0001, at + 0.25)
    tone.connect(loud).connect(audio!.destination)
    tone.start(at)
    tone.stop(at + 0.26)
  })
}
