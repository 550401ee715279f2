// @vitest-environment jsdom
import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { useState } from "react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { Shapes } from "../api/client";
import { LensForm } from "./LensForm";
import { SiteContext } from "./site";

const SITE = { slug: "marrowick", roles: ["passholder", "crew"] } as unknown as Shapes["SiteInfo"];
const FACTS: Shapes["LensFacts"] = {
  signed: "in",
  roles: ["night watch"],
  device: "desktop",
  browser: "firefox",
  accepts: ["nb", "en"],
  query: { campaign: "spring" },
  referrer: "news.example",
};

function show(facts = FACTS) {
  const change = vi.fn();
  render(<Held facts={facts} change={change} />);
  return change;
}

/** The form as the lens holds it: what is chosen stands in it at once. */
function Held({ facts, change }: Parameters<typeof LensForm>[0]) {
  const [held, setHeld] = useState(facts);
  const hold = (next: typeof facts) => {
    setHeld(next);
    change(next);
  };
  return (
    <SiteContext value={SITE}>
      <LensForm facts={held} change={hold} />
    </SiteContext>
  );
}

afterEach(cleanup);

describe("the form of the lens", () => {
  it("shows every fact, roles that the site does not list among them", () => {
    show();
    expect((screen.getByLabelText("night watch") as HTMLInputElement).checked).toBe(true);
    expect(screen.getByRole("combobox", { name: "Browser" }).textContent).toBe("Firefox");
    expect((screen.getByLabelText("Reads languages") as HTMLInputElement).value).toBe("nb, en");
    expect((screen.getByLabelText("In the address") as HTMLInputElement).value).toBe("campaign=spring");
    expect((screen.getByLabelText("Came from") as HTMLInputElement).value).toBe("news.example");
  });

  it("keeps the others when one changes, and shows the change at once", () => {
    const change = show();
    fireEvent.click(screen.getByRole("button", { name: "phone" }));
    fireEvent.click(screen.getByLabelText("crew"));
    expect(change).toHaveBeenLastCalledWith({ ...FACTS, device: "phone", roles: ["night watch", "crew"] });
    expect(screen.getByRole("button", { name: "phone" }).getAttribute("aria-pressed")).toBe("true");
  });

  it("signs in whoever gets a role", () => {
    const change = show({ ...FACTS, signed: "out", roles: [] });
    fireEvent.click(screen.getByLabelText("crew"));
    expect(change).toHaveBeenLastCalledWith(expect.objectContaining({ signed: "in", roles: ["crew"] }));
  });

  it("takes what is typed when Enter is pressed or the field is left, and not before", () => {
    const change = show();
    const field = screen.getByLabelText("In the address");
    fireEvent.change(field, { target: { value: "campaign=winter ref" } });
    expect(change).not.toHaveBeenCalled();
    fireEvent.keyDown(field, { key: "Enter" });
    expect(change).toHaveBeenLastCalledWith({ ...FACTS, query: { campaign: "winter", ref: "1" } });
    fireEvent.change(screen.getByLabelText("Reads languages"), { target: { value: "de" } });
    fireEvent.blur(screen.getByLabelText("Reads languages"));
    expect(change).toHaveBeenLastCalledWith(expect.objectContaining({ accepts: ["de"] }));
  });
});
