import type { KeyboardCoordinateGetter } from "@dnd-kit/core";

/**
 * Where a rule that is moved by keyboard goes: over the next one up or down, its middle on the middle of that. Lines
 * differ in height, so that a line laid edge to edge may lie nearer to a third one.
 */
export const keyboardPlaces: KeyboardCoordinateGetter = (event, { currentCoordinates, context }) => {
  const step = { ArrowUp: -1, ArrowDown: 1 }[event.code];
  const { active, over, collisionRect, droppableRects, droppableContainers } = context;
  if (!step || !active || !collisionRect) return undefined;
  event.preventDefault();
  const inOrder = droppableContainers
    .getEnabled()
    .map(({ id }) => ({ id, rect: droppableRects.get(id) }))
    .filter(({ rect }) => rect !== undefined)
    .sort((a, b) => (a.rect?.top ?? 0) - (b.rect?.top ?? 0));
  const held = inOrder.findIndex(({ id }) => id === (over ?? active).id);
  const next = inOrder[held + step]?.rect;
  if (!next) return undefined;
  return { x: currentCoordinates.x, y: next.top + (next.height - collisionRect.height) / 2 };
};
