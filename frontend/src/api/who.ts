const WHO_KEY = "inkthread-who";

/** Whoever works here, as at the bench. */
export function whoWorks(): string {
  return window.localStorage.getItem(WHO_KEY) ?? "";
}

export function nowWorks(who: string): void {
  window.localStorage.setItem(WHO_KEY, who);
}
