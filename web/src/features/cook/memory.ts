/** What a browser keeps, for tests. */
export class Memory implements Storage {
  private kept = new Map<string, string>();
  get length() {
    return this.kept.size;
  }
  clear() {
    this.kept.clear();
  }
  getItem(key: string) {
    return this.kept.get(key) ?? null;
  }
  key(i: number) {
    return [...this.kept.keys()][i] ?? null;
  }
  removeItem(key: string) {
    this.kept.delete(key);
  }
  setItem(key: string, value: string) {
    this.kept.set(key, value);
  }
}
