/** Shop time: what plans, printing and due dates go by. Scaled in the demo; runs on while the server is down. */
export interface ShopClock {
  now(): number;
  readonly rate: number;
  readonly zone: string;
}
