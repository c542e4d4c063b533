const KEPT_AS = "theme";

/** Colours the page behind the screens and tells the browser which of its own colours go with it. */
export function paintPage(night: boolean): void {
  document.documentElement.classList.toggle("night", night);
  document.documentElement.style.colorScheme = night ? "dark" : "light";
}

/** What was chosen by hand, if anything; a browser that keeps nothing gives null. */
export function readChoice(): string | null {
  try {
    return window.localStorage.getItem(KEPT_AS);
  } catch {
    return null;
  }
}

export function keepChoice(choice: string): void {
  try {
    window.localStorage.setItem(KEPT_AS, choice);
  } catch {
    // A private window keeps nothing; the choice holds until it is closed.
  }
}
