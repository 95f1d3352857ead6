// Sound, once somebody touched the page: browsers allow none before.
let audio = null;
export const sounding = () => audio?.state === "running";
export const soundOn = async () => {
  audio ??= new AudioContext();
  await audio.resume();
};
// Notes as [hertz, from, how long], seconds.
export const play = (notes, later = 0) => {
  if (!audio) return;
  for (const [hertz, from, long] of notes) {
    const [voice, loud] = [audio.createOscillator(), audio.createGain()];
    voice.type = "square";
    voice.frequency.value = hertz;
    const at = audio.currentTime + later + from;
    loud.gain.setValueAtTime(0, at);
    loud.gain.linearRampToValueAtTime(0.5, at + 0.01);
    loud.gain.setValueAtTime(0.5, at + long - 0.03);
    loud.gain.linearRampToValueAtTime(0, at + long);
    voice.connect(loud).connect(audio.destination);
    voice.start(at);
    voice.stop(at + long);
  }
};
