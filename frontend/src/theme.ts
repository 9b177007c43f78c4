/** Linen by day, dark in the garage: as the machine is set until one is chosen, then as chosen. */

const KEY = "inkthread-theme";
const DARK = "(prefers-color-scheme: dark)";

function show(garage: boolean): void {
  const root = document.documentElement;
  if (garage) root.dataset.theme = "garage";
  else delete root.dataset.theme;
}

function follow(): void {
  const chosen = localStorage.getItem(KEY);
  show(chosen === null ? window.matchMedia(DARK).matches : chosen === "garage");
}

export function recallTheme(): void {
  follow();
  window.matchMedia(DARK).addEventListener("change", follow);
}

export function switchTheme(): void {
  localStorage.setItem(KEY, document.documentElement.dataset.theme === "garage" ? "linen" : "garage");
  follow();
}
