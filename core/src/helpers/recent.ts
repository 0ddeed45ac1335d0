/** What was met lately, by key: of very many the older ones are forgotten. */
export interface Recent<Value> {
  get(key: string): Value | undefined;
  set(key: string, value: Value): void;
  clear(): void;
}

/** @param most at least so many are remembered, and at most twice as many */
export function recent<Value>(most: number): Recent<Value> {
  let [young, old] = [new Map<string, Value>(), new Map<string, Value>()];
  return {
    get: (key) => young.get(key) ?? old.get(key),
    set(key, value) {
      if (young.size >= most) [old, young] = [young, new Map<string, Value>()];
      young.set(key, value);
    },
    clear() {
      young = new Map();
      old = new Map();
    },
  };
}
