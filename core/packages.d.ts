/** What is used of packages that bring no types. */
declare module 'js-aruco2' {
  interface Corner {
    readonly x: number;
    readonly y: number;
  }
  const aruco: {
    readonly AR: {
      readonly Dictionary: new (name: string) => { readonly codeList: readonly string[] };
      readonly Detector: new (config: { readonly dictionaryName: string; readonly maxHammingDistance?: number }) => {
        detect: (image: { readonly width: number; readonly height: number; readonly data: Uint8ClampedArray }) => {
          readonly id: number;
          readonly corners: readonly Corner[];
        }[];
      };
    };
  };
  export = aruco;
}

declare module 'jstat' {
  const jstat: {
    readonly jStat: {
      readonly gamma: { readonly inv: (probability: number, shape: number, scale: number) => number };
      readonly studentt: {
        readonly cdf: (x: number, degrees: number) => number;
        readonly inv: (probability: number, degrees: number) => number;
      };
      readonly normal: {
        readonly cdf: (x: number, mean: number, deviation: number) => number;
        readonly inv: (probability: number, mean: number, deviation: number) => number;
      };
    };
  };
  export = jstat;
}
