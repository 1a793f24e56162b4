/** Light, dark, or as the system says; remembered in this browser. The page's root carries the one in force. */
export type Theme = "light" | "dark" | "system";

const KEY = "next-penny-theme";
const systemIsDark = window.matchMedia("(prefers-color-scheme: dark)");

function applyTheme() {
  const chosen = localStorage.getItem(KEY);
  const theme = chosen === "light" || chosen === "dark" ? chosen : systemIsDark.matches ? "dark" : "light";
  document.documentElement.dataset.theme = theme;
}

/** Put the theme in force, now and when the system changes its mind. */
export function startTheme() {
  applyTheme();
  systemIsDark.addEventListener("change", applyTheme);
}

export function chooseTheme(theme: Theme) {
  localStorage.setItem(KEY, theme);
  applyTheme();
}
