/** Two short tones, the second one higher: told apart from what a desktop says otherwise. Needs no file. */
export function soundAlert(): void {
  const audio = new AudioContext();
  const tone = (hz: number, from: number): void => {
    const voice = audio.createOscillator();
    const volume = audio.createGain();
    voice.frequency.value = hz;
    volume.gain.setValueAtTime(0.0001, audio.currentTime + from);
    volume.gain.exponentialRampToValueAtTime(0.25, audio.currentTime + from + 0.02);
    volume.gain.exponentialRampToValueAtTime(0.0001, audio.currentTime + from + 0.28);
    voice.connect(volume).connect(audio.destination);
    voice.start(audio.currentTime + from);
    voice.stop(audio.currentTime + from + 0.3);
  };
  tone(660, 0);
  tone(880, 0.32);
  setTimeout(() => void audio.close(), 1000);
}
