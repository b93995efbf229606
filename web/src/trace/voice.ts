import { useEffect, useRef } from "react";
import { useStored } from "../app/stored";

const asBoolean = (value: unknown) => (typeof value === "boolean" ? value : undefined);

/** Spoken prompts, off until asked for. */
export function useVoice() {
  return useStored("wayfinder.voice", false, asBoolean);
}

/** Tells of a change by a short shake, and aloud where that is wanted: the moment it is wanted, what holds now. */
export function useTold(text: string, spoken: boolean) {
  const before = useRef({ text, spoken });
  useEffect(() => {
    const was = before.current;
    before.current = { text: text === "" ? was.text : text, spoken };
    const changed = text !== was.text;
    if (text !== "" && changed) {
      navigator.vibrate?.([80, 60, 80]);
    }
    if (text !== "" && spoken && (changed || !was.spoken) && "speechSynthesis" in window) {
      window.speechSynthesis.cancel();
      window.speechSynthesis.speak(new SpeechSynthesisUtterance(text));
    }
  }, [text, spoken]);
}

/** Keeps the screen awake while a run goes on; where the browser cannot, nothing happens. */
export function useAwake(on: boolean) {
  useEffect(() => {
    if (!on || !("wakeLock" in navigator)) {
      return;
    }
    let lock: WakeLockSentinel | undefined;
    const keep = () => {
      if (document.visibilityState === "visible") {
        navigator.wakeLock.request("screen").then(
          (got) => {
            lock = got;
          },
          () => undefined,
        );
      }
    };
    keep();
    document.addEventListener("visibilitychange", keep);
    return () => {
      document.removeEventListener("visibilitychange", keep);
      void lock?.release();
    };
  }, [on]);
}
