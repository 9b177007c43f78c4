/** Linen by day, dark in the garage; remembered on this machine. */

const KEY = "inkthread-theme";

export function recallTheme(): void {
  if (localStorage.getItem(KEY) === "garage") document.documentElement.dataset.theme = "garage";
}

export function switchTheme(): void {
  const root = document.documentElement;
  if (root.dataset.theme === "garage") {
    delete root.dataset.theme;
    localStorage.removeItem(KEY);
  } else {
    root.dataset.theme = "garage";
    localStorage.setItem(KEY, "garage");
  }
}
