import { useEffect, useRef, useState } from "react";
import type { ScriptStep } from "../../kept/follow";
import { now } from "../../parts/clock";

/** Seconds since a timer was started, by the server's clock: a reload or a sleeping screen loses none. */
export function useElapsed(from: string | undefined): number | undefined {
  const [, tick] = useState(0);
  useEffect(() => {
    if (!from) return;
    const id = setInterval(() => tick((n) => n + 1), 500);
    return () => clearInterval(id);
  }, [from]);
  return from ? Math.max(0, (now().getTime() - Date.parse(from)) / 1000) : undefined;
}

/** Sounds and shakes when a timer comes to its usual time, and every few seconds past its last. */
export function useAlarm(timer: ScriptStep["timer"], elapsed: number | undefined, quiet: boolean) {
  const told = useRef(-1);
  const usual = timer && elapsed !== undefined && elapsed >= timer.low;
  const over = timer && timer.most > 0 && elapsed !== undefined && elapsed >= timer.most;
  const at = over ? 1 + Math.floor(((elapsed ?? 0) - (timer?.most ?? 0)) / 4) : usual ? 0 : -1;
  useEffect(() => {
    if (at < 0) told.current = -1;
    if (at <= told.current) return;
    told.current = at;
    navigator.vibrate?.(at > 0 ? [400, 150, 400] : 200);
    if (!quiet) beep(at > 0 ? 3 : 1);
  }, [at, quiet]);
}

/** Short tones of the device's own making; nothing is fetched. */
function beep(times: number) {
  try {
    const audio = new AudioContext();
    for (let i = 0; i < times; i += 1) {
      const tone = audio.createOscillator();
      const level = audio.createGain();
      tone.frequency.value = 880;
      level.gain.value = 0.2;
      tone.connect(level).connect(audio.destination);
      tone.start(audio.currentTime + 0.3 * i);
      tone.stop(audio.currentTime + 0.3 * i + 0.18);
    }
    setTimeout(() => audio.close(), 400 * times);
  } catch {
    // A device without sound: it shakes, and the page says it.
  }
}

/** Keeps the screen lit while a run is open, where the device can. */
export function useAwake() {
  useEffect(() => {
    let lock: WakeLockSentinel | undefined;
    const take = () => {
      if (document.visibilityState !== "visible") return;
      navigator.wakeLock?.request("screen").then(
        (l) => {
          lock = l;
        },
        () => undefined,
      );
    };
    take();
    document.addEventListener("visibilitychange", take);
    return () => {
      document.removeEventListener("visibilitychange", take);
      lock?.release().catch(() => undefined);
    };
  }, []);
}
