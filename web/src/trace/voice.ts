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

/** Keeps the screen awake while a run goes on. A page that came by plain HTTP may not ask for that: there a silent film does
 * it, from the next tap on, since browsers play nothing before one. */
export function useAwake(on: boolean) {
  useEffect(() => {
    if (!on) {
      return;
    }
    if (!("wakeLock" in navigator)) {
      return awakeByFilm();
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

/** Begins with the next tap; what is returned ends it. A browser may refuse a film that does not begin within the tap itself:
 * it is fetched beforehand, and tried again at each tap until it plays. */
function awakeByFilm(): () => void {
  let film: { enable: () => Promise<unknown>; disable: () => void } | undefined;
  let ended = false;
  const begin = () => {
    film?.enable().then(
      () => document.removeEventListener("click", begin),
      () => undefined,
    );
  };
  void import("nosleep.js").then(
    ({ default: NoSleep }) => {
      film = ended ? undefined : new NoSleep();
    },
    () => undefined,
  );
  document.addEventListener("click", begin);
  return () => {
    ended = true;
    document.removeEventListener("click", begin);
    film?.disable();
  };
}
