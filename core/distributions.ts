import jstat from 'jstat';

/** The value below which a gamma variable of this shape and scale 1 lies with a probability. */
export function gammaQuantile(probability: number, shape: number): number {
  return jstat.jStat.gamma.inv(probability, shape, 1);
}

/** Share of a standard normal variable below z. */
export function normalShare(z: number): number {
  return jstat.jStat.normal.cdf(z, 0, 1);
}

/** The value below which a standard normal variable lies with a probability. */
export function normalQuantile(probability: number): number {
  return jstat.jStat.normal.inv(probability, 0, 1);
}

/** Share of a Student variable with so many degrees of freedom below t. */
export function studentShare(t: number, degrees: number): number {
  return jstat.jStat.studentt.cdf(t, degrees);
}

/** The value below which a Student variable lies with a probability. */
export function studentQuantile(probability: number, degrees: number): number {
  return jstat.jStat.studentt.inv(probability, degrees);
}
