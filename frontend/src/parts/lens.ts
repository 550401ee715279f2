/** The lens as the interface edits it, to and from visitor terms such as `signed:in role:crew device:phone`. */
export interface LensState {
  signedIn: boolean;
  roles: string[];
  device: string;
}

export const DEVICES = ["desktop", "tablet", "phone"];

/** Read the terms that this interface writes; others are left to the server. */
export function readLens(text: string): LensState {
  const terms = new Map(
    text.split(/\s+/).flatMap((term) => [term.split(/:(.*)/s).slice(0, 2) as [string, string]]),
  );
  return {
    signedIn: terms.get("signed") === "in",
    roles: (terms.get("role") ?? "").split(",").filter(Boolean),
    device: terms.get("device") ?? "desktop",
  };
}

/** The terms of a lens; what equals the default is left out. */
export function writeLens(lens: LensState): string {
  return [
    lens.signedIn ? "signed:in" : "",
    lens.signedIn && lens.roles.length ? `role:${lens.roles.join(",")}` : "",
    lens.device === "desktop" ? "" : `device:${lens.device}`,
  ]
    .filter(Boolean)
    .join(" ");
}

/** The visitor in words: "Signed-in crew", "Signed-out visitor". */
export function visitorName(lens: LensState): string {
  if (!lens.signedIn) return "Signed-out visitor";
  return lens.roles.length ? `Signed-in ${lens.roles.join(" and ")}` : "Signed-in visitor";
}
