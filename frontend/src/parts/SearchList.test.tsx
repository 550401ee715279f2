// @vitest-environment jsdom
import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { useState } from "react";
import { afterEach, describe, expect, it, vi } from "vitest";
import { SearchList } from "./SearchList";

const BOATS = ["Aurora", "Brisk", "Cormorant"];

function Boats({ onChoose, onEnter }: { onChoose: (boat: string) => void; onEnter?: () => void }) {
  const [text, setText] = useState("");
  return (
    <SearchList
      label="Boat"
      options={BOATS.filter((boat) => boat.toLowerCase().includes(text.toLowerCase()))}
      keyOf={(boat) => boat}
      nameOf={(boat) => boat}
      text={text}
      onText={setText}
      onChoose={onChoose}
      onEnter={onEnter}
      isChosen={(boat) => boat === "Brisk"}
      nothing="No boat is called so."
    >
      {(boat) => <span>{boat}</span>}
    </SearchList>
  );
}

function show(onEnter?: () => void) {
  const choose = vi.fn();
  render(<Boats onChoose={choose} onEnter={onEnter} />);
  return choose;
}

const field = () => screen.getByRole("combobox", { name: "Boat" });
const names = () => screen.queryAllByRole("option").map((option) => option.textContent);

afterEach(cleanup);

describe("a list that is narrowed by typing", () => {
  it("stands open, tells what is chosen, and says where nothing fits", () => {
    show();
    expect(names()).toEqual(BOATS);
    expect(screen.getByRole("option", { name: "Brisk" }).getAttribute("aria-checked")).toBe("true");
    fireEvent.change(field(), { target: { value: "or" } });
    expect(names()).toEqual(["Aurora", "Cormorant"]);
    fireEvent.change(field(), { target: { value: "x" } });
    expect(screen.getByText("No boat is called so.")).toBeDefined();
  });

  it("is chosen from by pointer and by keyboard", () => {
    const choose = show();
    fireEvent.click(screen.getByRole("option", { name: "Cormorant" }));
    fireEvent.keyDown(field(), { key: "ArrowDown" });
    fireEvent.keyDown(field(), { key: "ArrowDown" });
    fireEvent.keyDown(field(), { key: "Enter" });
    expect(choose.mock.calls.map(([boat]) => boat)).toEqual(["Cormorant", "Brisk"]);
  });

  it("leaves Enter to the caller while nothing in it is meant, and Escape to what it stands in", () => {
    const enter = vi.fn();
    const choose = show(enter);
    const escaped = vi.fn();
    document.addEventListener("keydown", (event) => event.key === "Escape" && escaped());
    fireEvent.keyDown(field(), { key: "Enter" });
    fireEvent.keyDown(field(), { key: "Escape" });
    expect([enter.mock.calls.length, choose.mock.calls.length, escaped.mock.calls.length]).toEqual([1, 0, 1]);
  });
});
