import { Row } from '../Sheet.tsx';
import { LengthInput } from './LengthInput.tsx';

/** A length with its label beside it; there is always one. */
export function LengthRow({
  label,
  onChange,
  ...how
}: {
  readonly label: string;
  readonly valueMm: number;
  readonly leastMm?: number;
  readonly mostMm?: number;
  readonly disabled?: boolean;
  readonly onChange: (mm: number) => void;
}) {
  return (
    <Row label={label}>
      <LengthInput
        label={label}
        {...how}
        onChange={(mm) => {
          if (mm !== null) onChange(mm);
        }}
      />
    </Row>
  );
}
