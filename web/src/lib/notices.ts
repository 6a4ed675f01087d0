/** Ways by which this browser alone draws attention: a sound, off at first, and desktop notices, where the user allows them. */
import { remembered } from "./site-data.ts";

const SOUND = "prompt sound";
const NOTE_HZ = 660;
const SECONDS = 0.35;

export const hasSound = (): boolean => remembered.getItem(SOUND) === "on";

export function setSound(isOn: boolean): void {
  remembered.setItem(SOUND, isOn ? "on" : "off");
  if (isOn) playSound();
}

/** A short soft note. Nothing where the browser has none, or forbids it before the first click. */
export function playSound(): void {
  if (typeof AudioContext === "undefined") return;
  const audio = new AudioContext();
  const gain = audio.createGain();
  gain.gain.setValueAtTime(0.15, audio.currentTime);
  gain.gain.exponentialRampToValueAtTime(0.001, audio.currentTime + SECONDS);
  const note = new OscillatorNode(audio, { frequency: NOTE_HZ });
  note.connect(gain).connect(audio.destination);
  note.onended = () => void audio.close();
  note.start();
  note.stop(audio.currentTime + SECONDS);
}

export const noticesAre = (): NotificationPermission | "missing" =>
  typeof Notification === "undefined" ? "missing" : Notification.permission;

export function showNotice(title: string, body: string): void {
  if (noticesAre() === "granted") new Notification(title, { body, tag: "prompt" });
}
