import { describe, expect, it } from "vitest";
import { stepFor } from "../pages/keys";
import { actionFor, pinFor, ruleFor } from "../pages/newRule";
import { moved } from "../pieces/tree";
import { sameRule } from "../rules/drafts";
import { queryText, quoted, termText, tokenText, withTerm } from "../rules/sentence";
import { batches, pageFiles } from "../site/intake";
import { readLens, visitorName, writeLens } from "./lens";
import { count, kindFor, targetName } from "./words";

const piece = (kind: string, slug = kind) => ({ kind, slug, name: `The ${kind}` }) as never;

describe("values", () => {
  it.each([
    ["plain", "plain"],
    ["a b", '"a b"'],
    ['say "x"', '"say \\"x\\""'],
    ["-x", '"-x"'],
    ["a,b", '"a,b"'],
  ])("quotes %s only where it has to", (value, text) => {
    expect(quoted(value)).toBe(text);
  });
});

describe("the sentence", () => {
  const term = (fact: string, value: string, negated = false) =>
    ({
      fact,
      key: "",
      values: [value],
      negated,
      text: `${fact}:${value}`,
      column: 1,
      length: 1,
      pages: 0,
    }) as never;
  const clauses = [[term("within", "/a"), term("type", "x", true)], [term("page", "/b")]];

  it("changes, adds and takes away terms", () => {
    expect(withTerm(clauses, 0, 1, "kind:home")).toBe("within:/a kind:home | page:/b");
    expect(withTerm(clauses, 1, 1, "type:y")).toBe("within:/a -type:x | page:/b type:y");
    expect(withTerm(clauses, 2, 0, "all")).toBe("within:/a -type:x | page:/b | all");
    expect(withTerm(clauses, 1, 0, null)).toBe("within:/a -type:x");
    expect(queryText([[], []])).toBe("");
  });

  it("writes terms as text and as tokens", () => {
    expect(termText("type", ["a b", "c"], true)).toBe('-type:"a b",c');
    expect(termText("field", ["Aurora"], false, "vessel")).toBe("field.vessel:Aurora");
    expect(termText("all", [], false)).toBe("all");
    expect(tokenText(term("type", "x", true))).toBe("not type x");
  });
});

describe("the lens", () => {
  it("reads what it writes", () => {
    for (const text of ["", "signed:in", "signed:in role:crew,passholder device:phone", "device:tablet"]) {
      expect(writeLens(readLens(text))).toBe(text);
    }
  });

  it("drops roles of those who are signed out", () => {
    expect(writeLens({ signedIn: false, roles: ["crew"], device: "desktop" })).toBe("");
    expect(visitorName(readLens("signed:in role:crew"))).toBe("Signed-in crew");
  });
});

describe("rules made from pages", () => {
  it("put a piece where its kind belongs", () => {
    expect(actionFor(piece("template", "plain"))).toEqual({ do: "use", template: "plain" });
    expect(actionFor(piece("sidebar", "desk"))).toEqual({ do: "fill", slot: "aside-end", piece: "desk" });
    expect(actionFor(piece("widget", "note"))).toEqual({ do: "append", slot: "above-footer", piece: "note" });
    expect(ruleFor("x".repeat(200), "", piece("header")).name.length).toBeLessThanOrEqual(80);
  });

  it("pin one page alone", () => {
    const pin = pinFor("/h i", "footer", null);
    expect(pin.condition).toEqual({ include: 'page:"/h i"' });
    expect(pin.actions).toEqual([{ do: "empty", slot: "footer" }]);
    expect(pinFor("/a", "above-footer", piece("widget", "note")).actions).toEqual([
      { do: "fill", slot: "above-footer", piece: "note" },
    ]);
    expect(pinFor(`/${"a".repeat(300)}`, "header", null).name.length).toBeLessThanOrEqual(80);
  });

  it("are the same when only what is left out differs", () => {
    expect(
      sameRule({ name: "a " }, { name: "a", on: true, priority: 0, actions: [], condition: { include: "" } }),
    ).toBe(true);
    expect(sameRule({ name: "a" }, { name: "a", on: false })).toBe(false);
  });
});

describe("keys of the page list", () => {
  const at = { onSection: true, closed: true };
  it("open and close sections before they move", () => {
    expect(stepFor("ArrowRight", false, at)).toEqual({ do: "toggle" });
    expect(stepFor("ArrowRight", false, { ...at, closed: false })).toEqual({
      do: "move",
      rows: 0,
      columns: 1,
    });
    expect(stepFor("ArrowLeft", false, { ...at, closed: false })).toEqual({ do: "toggle" });
    expect(stepFor(" ", true, at)).toEqual({ do: "pick", upTo: true });
    expect(stepFor("x", false, at)).toBeNull();
  });
});

describe("taking files in", () => {
  const file = (name: string, size = 1, folder = "site") => {
    const made = new File([new Uint8Array(size)], name);
    Object.defineProperty(made, "webkitRelativePath", { value: `${folder}/${name}` });
    return made;
  };

  it("names pages below the chosen folder and leaves other files", () => {
    expect(pageFiles([file("a.html"), file("b.css"), file("c.HTM")]).map((one) => one.name)).toEqual([
      "a.html",
      "c.HTM",
    ]);
  });

  it("batches by number and by size", () => {
    const many = pageFiles(Array.from({ length: 250 }, (_, n) => file(`${n}.html`)));
    expect([...batches(many)].map((batch) => batch.length)).toEqual([100, 100, 50]);
    const large = pageFiles(Array.from({ length: 4 }, (_, n) => file(`${n}.html`, 4 * 1024 * 1024)));
    expect([...batches(large)].map((batch) => batch.length)).toEqual([3, 1]);
    expect([...batches([])]).toEqual([]);
  });
});

describe("words", () => {
  it("count and name", () => {
    expect([count(1, "page"), count(2, "page"), count(1234, "page")]).toEqual([
      "1 page",
      "2 pages",
      "1,234 pages",
    ]);
    expect(targetName("above-footer")).toBe("Above footer");
    expect([kindFor("aside-end"), kindFor("title"), kindFor("before-content")]).toEqual([
      "sidebar",
      "title",
      "widget",
    ]);
  });

  it("move list elements", () => {
    expect(moved([1, 2, 3], 0, 2)).toEqual([2, 3, 1]);
    expect(moved([1, 2], 0, -1)).toEqual([1, 2]);
    expect(moved([1, 2], 5, 0)).toEqual([1, 2]);
  });
});
