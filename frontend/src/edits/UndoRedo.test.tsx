// @vitest-environment jsdom
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { MemoryRouter } from "react-router";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { Shapes } from "../api/client";
import { SiteContext } from "../parts/site";
import { useOfferSteps } from "../parts/steps";
import { UndoRedo } from "./UndoRedo";

const SITE = { slug: "marrowick", undo: { number: 7, words: "Legal: removed" }, redo: null };

function Editor({ undo, redo }: { undo: (() => void) | null; redo: (() => void) | null }) {
  useOfferSteps("Quiet checkout", undo, redo);
  return null;
}

function show(site: object, editor?: React.ReactNode) {
  render(
    <QueryClientProvider client={new QueryClient()}>
      <MemoryRouter>
        <SiteContext value={site as Shapes["SiteInfo"]}>
          {editor}
          <UndoRedo />
        </SiteContext>
      </MemoryRouter>
    </QueryClientProvider>,
  );
}

const off = (name: string) => (screen.getByRole("button", { name }) as HTMLButtonElement).disabled;

afterEach(cleanup);

describe("undo and redo", () => {
  it("name what they do, and are off where there is nothing to do", () => {
    show(SITE);
    expect([off("Undo: Legal: removed"), off("Nothing to redo")]).toEqual([false, true]);
  });

  it("go through what is typed before what was saved, by button and by key", () => {
    const undo = vi.fn();
    show(SITE, <Editor undo={undo} redo={null} />);
    fireEvent.click(screen.getByRole("button", { name: "Undo: unsaved edit of Quiet checkout" }));
    fireEvent.keyDown(document, { key: "z", code: "KeyZ", ctrlKey: true });
    expect(undo).toHaveBeenCalledTimes(2);
  });

  it("do not redo what was saved over what is typed", () => {
    const redo = { number: 8, words: "Terms: made" };
    show({ ...SITE, redo }, <Editor undo={() => undefined} redo={null} />);
    expect(off("Nothing to redo")).toBe(true);
    cleanup();
    show({ ...SITE, redo });
    expect(off("Redo: Terms: made")).toBe(false);
  });
});
