// @vitest-environment jsdom
import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, describe, expect, it } from "vitest";
import { useLines } from "./useLines";

const BOATS = ["Aurora", "Brisk", "Cormorant"];

function Boats({ names = BOATS, usual }: { names?: string[]; usual?: string }) {
  const { tabIndex, list } = useLines(names, usual);
  return (
    <ul {...list}>
      {names.map((name) => (
        <li key={name} data-line={name}>
          <a href={`#${name}`} tabIndex={tabIndex(name)}>
            {name}
          </a>
          {name !== "Brisk" && (
            <button type="button" aria-pressed={name === "Cormorant"} tabIndex={tabIndex(name)}>
              Moor {name}
            </button>
          )}
        </li>
      ))}
    </ul>
  );
}

const stops = () => {
  const controls = [...screen.getAllByRole("link"), ...screen.getAllByRole("button")];
  return controls.filter((one) => one.tabIndex === 0).map((one) => one.textContent);
};
const press = (key: string) => {
  fireEvent.keyDown(document.activeElement as Element, { key });
  return document.activeElement?.textContent;
};

afterEach(cleanup);

describe("the lines of a list by keyboard", () => {
  it("are one stop for Tab: the usual line, else the first", () => {
    const { rerender } = render(<Boats usual="Brisk" />);
    expect(stops()).toEqual(["Brisk"]);
    rerender(<Boats usual="Dunlin" />);
    expect(stops()).toEqual(["Aurora", "Moor Aurora"]);
  });

  it("are walked by arrows, Home and End, to the same control where the other line has it", () => {
    render(<Boats />);
    screen.getByRole("link", { name: "Aurora" }).focus();
    expect([press("ArrowUp"), press("ArrowDown"), press("End"), press("ArrowDown"), press("Home")]).toEqual([
      "Aurora",
      "Brisk",
      "Cormorant",
      "Cormorant",
      "Aurora",
    ]);
    screen.getByRole("button", { name: "Moor Aurora" }).focus();
    expect(press("ArrowDown")).toBe("Brisk");
    expect(press("End")).toBe("Cormorant");
    expect(stops()).toEqual(["Cormorant", "Moor Cormorant"]);
  });

  it("leave the arrows to what is lifted", () => {
    render(<Boats />);
    screen.getByRole("button", { name: "Moor Cormorant" }).focus();
    expect(press("ArrowUp")).toBe("Moor Cormorant");
  });

  it("have another stop when the line that was walked to is gone", () => {
    const { rerender } = render(<Boats />);
    screen.getByRole("link", { name: "Cormorant" }).focus();
    rerender(<Boats names={["Aurora", "Brisk"]} />);
    expect(stops()).toEqual(["Aurora", "Moor Aurora"]);
  });
});
