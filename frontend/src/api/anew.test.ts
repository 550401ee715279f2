import { QueryClient, QueryObserver } from "@tanstack/react-query";
import { expect, it } from "vitest";
import { answered, askAnew } from "./anew";

it("does not take a first answer from before a write for the one after it", async () => {
  const client = new QueryClient();
  const waiting: ((answer: string) => void)[] = [];
  const asked = {
    queryKey: ["site", "impact"],
    queryFn: () => new Promise<string>((done) => waiting.push(done)),
  };
  const seen = new QueryObserver(client, asked);
  const stop = seen.subscribe(() => {});
  expect(waiting).toHaveLength(1);
  const anew = askAnew(client, { queryKey: ["site"] });
  await expect.poll(() => waiting.length).toBe(2);
  waiting[0]?.("before");
  waiting[1]?.("after");
  await anew;
  expect(seen.getCurrentResult().data).toBe("after");
  stop();
});

it("leaves alone what its filters leave out", async () => {
  const client = new QueryClient();
  let asked = 0;
  const queryFn = () => new Promise<string>(() => void asked++);
  const stop = new QueryObserver(client, { queryKey: ["site", "info"], queryFn }).subscribe(() => {});
  await askAnew(client, { queryKey: ["site"], predicate: ({ queryKey }) => queryKey[1] !== "info" });
  expect(asked).toBe(1);
  stop();
});

it("asks again what was given up for a write before it was answered", async () => {
  const client = new QueryClient();
  const waiting: ((answer: string) => void)[] = [];
  const queryFn = () => new Promise<string>((done) => waiting.push(done));
  const found = answered(client, { queryKey: ["site", "preview"], queryFn });
  await expect.poll(() => waiting.length).toBe(1);
  await askAnew(client, { queryKey: ["site"] });
  await expect.poll(() => waiting.length).toBe(2);
  waiting[0]?.("before");
  waiting[1]?.("after");
  expect(await found).toBe("after");
});

it("tells why nothing was answered", async () => {
  const client = new QueryClient();
  const queryFn = () => Promise.reject(new Error("no such page"));
  await expect(answered(client, { queryKey: ["site", "preview"], queryFn })).rejects.toThrow("no such page");
});
