export function runName(seq: number): string {
  return `Run ${String(seq)}`;
}
