/** How every field looks, whatever is typed or chosen in it. Beside a button it grows to the height of the button. */
export const FIELD = 'min-h-7 rounded border border-rule bg-card px-2 aria-invalid:border-stop disabled:opacity-60';
