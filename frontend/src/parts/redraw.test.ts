// @vitest-environment jsdom
import { expect, test } from "vitest";
import { redraw } from "./redraw";

const page = (html: string) => new DOMParser().parseFromString(html, "text/html");
const one =
  '<html lang="en"><head><style>p{color:red}</style></head><body class="a"><p>One</p></body></html>';

test("a page takes the place of another whole", () => {
  const two =
    '<html lang="nb" dir="ltr"><head><title>2</title></head><body class="b"><p>Two</p></body></html>';
  const shown = page(one);
  redraw(shown, two);
  expect(shown.documentElement.outerHTML).toBe(page(two).documentElement.outerHTML);
});

test("a head that says the same is not read again", () => {
  const shown = page(one);
  const style = shown.head.firstChild;
  redraw(shown, one.replace("One", "Another"));
  expect(shown.body.textContent).toBe("Another");
  expect(shown.head.firstChild).toBe(style);
});
