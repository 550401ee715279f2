import { HighlightStyle } from "@codemirror/language";
import { tags } from "@lezer/highlight";

/** The colours of the interface, so that code is read in the light and in the dark. */
export const CODE_COLOURS = HighlightStyle.define([
  { tag: [tags.tagName, tags.propertyName], color: "var(--ink)", fontWeight: "600" },
  { tag: [tags.attributeName, tags.className], color: "var(--mute)" },
  { tag: [tags.string, tags.attributeValue, tags.color, tags.number, tags.unit], color: "var(--accent)" },
  { tag: [tags.keyword, tags.controlKeyword, tags.operatorKeyword, tags.modifier], color: "var(--warn)" },
  { tag: tags.comment, color: "var(--mute)", fontStyle: "italic" },
  { tag: tags.invalid, color: "var(--bad)" },
]);
