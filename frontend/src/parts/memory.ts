import { useCallback, useState } from "react";
import { useAddress, useInAddress, useSite } from "./site";
import { useDebounced } from "./useDebounced";

/** A state that outlives the window: a person's own, in this browser, by site. */
export function useLasting<T>(name: string, initial: T): [T, (value: T) => void] {
  return useKept(name, initial, localStorage);
}

/** A state that outlives its view, kept for the window's session by site. */
export function useKept<T>(
  name: string,
  initial: T,
  storage: Storage = sessionStorage,
): [T, (value: T) => void] {
  const key = `navrel/kept/${useSite().slug}/${name}`;
  const [value, setValue] = useState<T>(() => {
    try {
      return (JSON.parse(storage.getItem(key) ?? "null") as T | null) ?? initial;
    } catch {
      return initial;
    }
  });
  const put = useCallback(
    (next: T) => {
      storage.setItem(key, JSON.stringify(next));
      setValue(next);
    },
    [key, storage],
  );
  return [value, put];
}

/**
 * A state that is kept, and stands in the address where it is not the usual one, so that a copied link shows it. What
 * the address says at first is what holds.
 */
export function useAddressed<T extends string>(
  name: string,
  [kept, keep]: [T, (value: T) => void],
  usual: T,
): [T, (value: T) => void] {
  const { get } = useAddress();
  const [value, setValue] = useState<T>((get(name) || kept) as T);
  // While it is being typed, the address waits: all that stands in it would be drawn anew at each letter.
  useInAddress(name, useDebounced(value === usual ? "" : value, 60));
  const put = (next: T) => {
    keep(next);
    setValue(next);
  };
  return [value, put];
}

/** How each view was left: its address, which the way back to it leads to. */
const left = new Map<string, string>();

export function rememberAddress(site: string, view: string, rest: string) {
  left.set(`${site}/${view}`, rest);
}

export function rememberedAddress(site: string, view: string): string {
  return left.get(`${site}/${view}`) ?? "";
}
