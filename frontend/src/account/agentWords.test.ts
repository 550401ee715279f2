import { expect, test } from "vitest";
import { agentWords } from "./agentWords";

test.each([
  ["Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 Chrome/120.0 Safari/537.36", "Chrome on Linux"],
  [
    "Mozilla/5.0 (Windows NT 10.0) AppleWebKit/537.36 Chrome/120.0 Safari/537.36 Edg/120.0",
    "Edge on Windows",
  ],
  ["Mozilla/5.0 (iPhone; CPU iPhone OS 17_0 like Mac OS X) Version/17.0 Safari/604.1", "Safari on iPhone"],
  ["Mozilla/5.0 (Android 14; Mobile; rv:121.0) Gecko/121.0 Firefox/121.0", "Firefox on Android"],
  ["curl/8.5.0", "curl/8.5.0"],
  ["", "something that does not say what it is"],
])("%s", (agent, words) => expect(agentWords(agent)).toBe(words));
