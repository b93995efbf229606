/** How long the page waits, all in one place, in milliseconds. Tests let it ask again sooner. */

const { wayfinderHurry: hurry = 1 } = globalThis as { wayfinderHurry?: number };

/** What waits is sent again so often while there is no connection. */
export const AGAIN_MS = 2500 / hurry;
/** A device says that it is there so often, */
export const HELLO_MS = 4000 / hurry;
/** and waits no longer for the answer: a phone that has walked out of the Wi-Fi hears nothing at all. */
export const HEARD_MS = 6000;
/** All other pages are fetched so long after the first: what is on screen comes first. */
export const FETCH_AFTER_MS = 1500 / hurry;
/** The guide is waited for so long after an answer; then the tour goes on in walking order. */
export const SETTLE_MS = 1500;
/** The server tells of a change within this time; after it the device asks by itself. */
export const TOLD_MS = 1000;
