/** What people call a run: its number, counted up through the life of the shop. */
export function runName(seq: number): string {
  return `Run ${String(seq)}`;
}
