/** Names by what stands in the name that a browser gives itself; most call themselves by several, so the order counts. */
const BROWSERS = [
  ["Edg/", "Edge"],
  ["OPR/", "Opera"],
  ["Firefox/", "Firefox"],
  ["Chrome/", "Chrome"],
  ["Safari/", "Safari"],
] as const;
const SYSTEMS = ["Windows", "Android", "iPhone", "iPad", "Mac OS X", "Linux"] as const;

/** With what somebody signed in, in words: its browser and its system where they are known. */
export function agentWords(agent: string): string {
  const browser = BROWSERS.find(([part]) => agent.includes(part))?.[1];
  const system = SYSTEMS.find((part) => agent.includes(part));
  if (!browser) return agent.split(" ")[0] || "something that does not say what it is";
  return system ? `${browser} on ${system}` : browser;
}
