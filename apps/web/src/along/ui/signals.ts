/** What a rider hears and feels without looking: short for a gate, long and twice for a stop. */
const SOUNDS = {
  gate: { hz: 880, ms: [180], shake: [120] },
  turn: { hz: 660, ms: [250, 250], shake: [200, 100, 200] },
  stop: { hz: 440, ms: [600, 600], shake: [600, 150, 600] },
} as const;

let audio: AudioContext | undefined;

/** Browsers let a page sound only after it was touched: called with the first tap. */
export function allowSound(): void {
  audio ??= 'AudioContext' in window ? new AudioContext() : undefined;
  void audio?.resume();
}

const SPOKEN = 'along-spoken';
export function isSpoken(): boolean {
  return localStorage.getItem(SPOKEN) === 'yes';
}
export function setSpoken(is: boolean): void {
  localStorage.setItem(SPOKEN, is ? 'yes' : 'no');
}
/** Whether this browser can speak at all. */
export function canSpeak(): boolean {
  return 'speechSynthesis' in window;
}

/** A signal, and in words where the rider wants them. */
export function sound(what: keyof typeof SOUNDS, words: string): void {
  if (isSpoken() && canSpeak()) speechSynthesis.speak(new SpeechSynthesisUtterance(words));
  beep(what);
}

function beep(what: keyof typeof SOUNDS): void {
  const { hz, ms, shake } = SOUNDS[what];
  navigator.vibrate?.([...shake]);
  if (audio?.state !== 'running') return;
  let at = audio.currentTime;
  for (const length of ms) {
    const tone = audio.createOscillator();
    const level = audio.createGain();
    tone.frequency.value = hz;
    level.gain.setValueAtTime(0.25, at);
    level.gain.setValueAtTime(0, at + length / 1000);
    tone.connect(level).connect(audio.destination);
    tone.start(at);
    tone.stop(at + length / 1000);
    at += length / 1000 + 0.12;
  }
}

/** The screen stays on while a ride is led, where the browser can; taken again when the page comes back. */
export function keepAwake(): () => void {
  let lock: WakeLockSentinel | undefined;
  let isOver = false;
  const take = async (): Promise<void> => {
    if (document.visibilityState !== 'visible' || isOver) return;
    lock = await navigator.wakeLock?.request('screen').catch(() => undefined);
    if (isOver) await lock?.release();
  };
  const again = (): void => void take();
  document.addEventListener('visibilitychange', again);
  void take();
  return () => {
    isOver = true;
    document.removeEventListener('visibilitychange', again);
    void lock?.release().catch(() => undefined);
  };
}

/** Whether the screen can be kept on here at all. */
export function canKeepAwake(): boolean {
  return 'wakeLock' in navigator;
}
