/** What is used of the colour library, which brings no types. */
declare module 'lcms-wasm' {
  export interface Lcms {
    readonly HEAPU8: Uint8Array;
    _malloc(bytes: number): number;
    _free(at: number): void;
    _cmsDoTransform(transform: number, from: number, to: number, count: number): void;
    /** 0 where it is no profile. */
    cmsOpenProfileFromMem(bytes: Uint8Array, length: number): number;
    cmsCloseProfile(profile: number): void;
    cmsCreateLab4Profile(white: null): number;
    cmsCreate_sRGBProfile(): number;
    /** Signature of four letters, as a number. */
    cmsGetColorSpace(profile: number): number;
    cmsGetProfileInfoASCII(profile: number, info: number, language: string, country: string): string;
    /** 0 where the profiles do not go together. */
    cmsCreateTransform(
      from: number,
      fromFormat: number,
      to: number,
      toFormat: number,
      intent: number,
      flags: number,
    ): number;
    cmsDeleteTransform(transform: number): void;
  }
  export function instantiate(): Promise<Lcms>;
  export const COLORSPACE_SH: (space: number) => number;
  export const CHANNELS_SH: (count: number) => number;
  export const BYTES_SH: (bytes: number) => number;
  export const PT_RGB: number;
  export const PT_GRAY: number;
  export const PT_CMYK: number;
  export const PT_MCH1: number;
  export const PT_Lab: number;
  export const cmsFLAGS_NOOPTIMIZE: number;
  export const cmsFLAGS_BLACKPOINTCOMPENSATION: number;
  export const cmsInfoDescription: number;
}
