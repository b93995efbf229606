import { useEffect, useRef } from "react";
import { useStored } from "../stored";

const asBoolean = (value: unknown) => (typeof value === "boolean" ? value : undefined);

/** Spoken prompts, off until asked for. */
export function useVoice() {
  return useStored("wayfinder.voice", false, asBoolean);
}

/** Tells of a change by a short shake, and aloud where that is wanted. Not at the first showing. */
export function useTold(text: string, spoken: boolean) {
  const before = useRef(text);
  useEffect(() => {
    if (before.current === text || text === "") {
      return;
    }
    before.current = text;
    navigator.vibrate?.([80, 60, 80]);
    if (spoken && "speechSynthesis" in window) {
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
