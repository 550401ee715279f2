// @vitest-environment jsdom
import { describe, expect, it } from "vitest";
import { type Term, tokenPath, tokenText, withTerms } from "../conditions/terms";
import { stepFor } from "../pages/keys";
import { actionFor, pinAction, pinnedText, ruleFor } from "../pages/newRule";
import { moved } from "../pieces/tree";
import { isHalfMade, sameRule } from "../rules/ruleTree";
import { batches, siteFiles } from "../site/intake";
import { listDrafts, readDraft, writeDraft } from "./drafts";
import { type History, NOTHING, stepped } from "./history";
import { readParameters } from "./LensForm";
import { count, day, kindFor, targetName, when } from "./words";

const piece = (kind: string, slug = kind) => ({ kind, slug, name: `The ${kind}` }) as never;

describe("the sentence", () => {
  const term = (fact: string, value: string, negated = false): Term => ({
    fact,
    key: "",
    values: [{ text: value, wild: false }],
    names: [value],
    negated,
    text: `${fact}:${value}`,
    column: 1,
    length: 1,
    pages: 0,
  });
  const clauses = [[term("within", "/a"), term("type", "x", true)], [term("page", "/b")]];
  const all = { fact: "all", values: [] };
  const facts = (found: ReturnType<typeof withTerms>) =>
    found.map(({ terms }) => terms.map((one) => one.fact));

  it("changes, adds and takes away terms", () => {
    expect(facts(withTerms(clauses, 0, 1, [all]))).toEqual([["within", "all"], ["page"]]);
    expect(facts(withTerms(clauses, 1, 1, [all]))).toEqual([
      ["within", "type"],
      ["page", "all"],
    ]);
    expect(facts(withTerms(clauses, 2, 0, [all]))).toEqual([["within", "type"], ["page"], ["all"]]);
    expect(facts(withTerms(clauses, 1, 0, []))).toEqual([["within", "type"]]);
    expect(withTerms(clauses, 1, 0, [])[0]?.terms[1]).toEqual({
      fact: "type",
      key: "",
      values: [{ text: "x", wild: false }],
      negated: true,
    });
  });

  it("puts two in the place of one: either will do, or neither where they are denied", () => {
    const [listing, pages] = [term("lists", "term/a"), term("term", "a")];
    expect(facts(withTerms(clauses, 0, 1, [pages, listing]))).toEqual([
      ["within", "term"],
      ["within", "lists"],
      ["page"],
    ]);
    const denied = [pages, listing].map((one) => ({ ...one, negated: true }));
    expect(facts(withTerms(clauses, 0, 1, denied))).toEqual([["within", "term", "lists"], ["page"]]);
  });

  it("writes terms as tokens", () => {
    expect(tokenText(term("type", "x", true))).toBe("not type x");
    expect(tokenText({ ...term("within", "/about"), names: ["About us"] })).toBe("within About us");
    expect(tokenPath(term("within", "/about"))).toBe("/about");
    expect(tokenPath(term("term", "topic/food"))).toBe("");
  });
});

describe("steps through what is not saved", () => {
  const edit = (from: string | null, now: number) => ({ do: "edit", from, now }) as const;

  it("go back and forth, and a new edit ends what could be redone", () => {
    let history: History<string> = NOTHING;
    history = stepped(history, edit(null, 1000));
    history = stepped(history, edit("a", 3000));
    expect(history.past).toEqual([null, "a"]);
    history = stepped(history, { do: "undo", from: "b" });
    expect([history.past, history.future]).toEqual([[null], ["b"]]);
    history = stepped(history, { do: "redo", from: "a" });
    expect([history.past, history.future]).toEqual([[null, "a"], []]);
    history = stepped(stepped(history, { do: "undo", from: "b" }), edit("a", 9000));
    expect(history.future).toEqual([]);
    expect(stepped(history, { do: "forget" })).toEqual(NOTHING);
  });

  it("are one for what is typed in quick succession", () => {
    const first = stepped<string>(NOTHING, edit(null, 1000));
    expect(stepped(first, edit("a", 1200)).past).toEqual([null]);
  });
});

describe("the lens", () => {
  it.each([
    ["", {}],
    ["campaign=spring", { campaign: "spring" }],
    ["a=1&b=2 c", { a: "1", b: "2", c: "1" }],
    ["=x a=", {}],
  ])("reads the parameters of %s", (text, parameters) => {
    expect(readParameters(text)).toEqual(parameters);
  });
});

describe("edits that are not saved", () => {
  const draft = (name: string) => ({ tree: { name }, name, version: 1 });

  it("stand in the browser's storage until they are dropped", () => {
    writeDraft("navrel/draft/una/marrowick/rule/3", draft("Legal"));
    writeDraft("navrel/draft/una/marrowick/piece/slim", draft("Slim header"));
    writeDraft("navrel/draft/una/other/rule/4", draft("Elsewhere"));
    expect(readDraft("navrel/draft/una/marrowick/rule/3")).toEqual(draft("Legal"));
    expect(listDrafts("navrel/draft/una/marrowick/")).toEqual([
      { kind: "piece", id: "slim", name: "Slim header" },
      { kind: "rule", id: "3", name: "Legal" },
    ]);
    writeDraft("navrel/draft/una/marrowick/rule/3", null);
    expect(listDrafts("navrel/draft/una/marrowick/").map((one) => one.id)).toEqual(["slim"]);
  });

  it("are none where they cannot be read", () => {
    localStorage.setItem("navrel/draft/una/marrowick/rule/9", "{");
    expect(readDraft("navrel/draft/una/marrowick/rule/9")).toBeNull();
  });

  it("give the same object while nothing changed, as React asks for", () => {
    writeDraft("navrel/draft/una/marrowick/rule/5", draft("One"));
    expect(readDraft("navrel/draft/una/marrowick/rule/5")).toBe(
      readDraft("navrel/draft/una/marrowick/rule/5"),
    );
  });
});

describe("rules made from pages", () => {
  it("put a piece where its kind belongs", () => {
    expect(actionFor(piece("template", "plain"))).toEqual({ do: "use", template: "plain" });
    expect(actionFor(piece("sidebar", "desk"))).toEqual({ do: "fill", slot: "aside-end", piece: "desk" });
    expect(actionFor(piece("widget", "note"))).toEqual({ do: "append", slot: "above-footer", piece: "note" });
    expect(
      ruleFor(
        { include: "all", exclude: "", where: "x".repeat(200) },
        "Bare header",
        actionFor(piece("header")),
      ).name.length,
    ).toBeLessThanOrEqual(80);
  });

  it("pin a piece, a template or nothing", () => {
    expect(pinAction("footer", null)).toEqual({ do: "empty", slot: "footer" });
    expect(pinAction("template", piece("template", "plain"))).toEqual({ do: "use", template: "plain" });
    expect(pinAction("above-footer", piece("widget", "note"))).toEqual({
      do: "fill",
      slot: "above-footer",
      piece: "note",
    });
    expect(pinnedText({ do: "empty", slot: "footer" }, String)).toBe("Footer left empty");
    expect(pinnedText({ do: "use", template: "plain" }, () => "Plain")).toBe("Plain");
  });

  it.each([
    [{ do: "fill", slot: "" }, true],
    [{ do: "fill", slot: "header" }, true],
    [{ do: "fill", slot: "header", piece: "slim" }, false],
    [{ do: "empty", slot: "footer" }, false],
    [{ do: "use" }, true],
    [{ do: "set", setting: "measure", value: "wide" }, false],
  ] as const)("are half made without where and what: %j", (action, half) => {
    expect(isHalfMade(action)).toBe(half);
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

  it("names files below the chosen folder and leaves hidden ones", () => {
    const chosen = ["a.html", "b.css", ".git/config", "x/.env", ".well-known/security.txt", "a/.html"].map(
      (name) => file(name),
    );
    expect(siteFiles(chosen).map((one) => one.name)).toEqual([
      "a.html",
      "b.css",
      ".well-known/security.txt",
      "a/.html",
    ]);
  });

  it("batches by number and by size", () => {
    const many = siteFiles(Array.from({ length: 250 }, (_, n) => file(`${n}.html`)));
    expect([...batches(many)].map((batch) => batch.length)).toEqual([100, 100, 50]);
    const large = siteFiles(Array.from({ length: 4 }, (_, n) => file(`${n}.html`, 4 * 1024 * 1024)));
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

it("a moment is told with its year where that is not this one", () => {
  const year = new Date().getFullYear();
  expect(day(`${year}-03-04T10:00`)).not.toContain(String(year));
  expect(when(`${year + 1}-03-04T10:00`)).toMatch(new RegExp(`^\\w{3} 4 Mar ${year + 1}, 10:00$`));
});
