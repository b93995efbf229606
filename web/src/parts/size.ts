import { type RefObject, startTransition, useEffect, useRef, useState } from "react";

/** What a finger needs, in pixels. */
export const FINGER = 44;

/** The inner size of an element, as it changes. */
export function useSize<T extends HTMLElement>(): [RefObject<T | null>, { width: number; height: number }] {
  const element = useRef<T>(null);
  const [size, setSize] = useState({ width: 0, height: 0 });
  useEffect(() => {
    const watched = element.current;
    if (watched === null) {
      return;
    }
    // The browser tells once at the beginning, when it has laid the page out anyway. What is drawn to size is much at a time:
    // it gives way to a finger.
    const observer = new ResizeObserver(() =>
      startTransition(() => setSize({ width: watched.clientWidth, height: watched.clientHeight })),
    );
    observer.observe(watched);
    return () => observer.disconnect();
  }, []);
  return [element, size];
}

let drawn: CanvasRenderingContext2D | null | undefined;

/** How wide a text is as it is drawn, in pixels. */
export function textWidth(text: string, size: number, style: "text" | "mono" = "text"): number {
  drawn ??= document.createElement("canvas").getContext("2d");
  if (drawn === null) {
    return text.length * size * 0.55;
  }
  drawn.font =
    style === "mono"
      ? `${size}px 'Overpass Mono Variable', monospace`
      : `650 ${size}px 'Overpass Variable', sans-serif`;
  return drawn.measureText(text).width;
}
