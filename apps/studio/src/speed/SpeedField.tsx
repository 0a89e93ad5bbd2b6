import { saySpeed, SPEED_HINT, typedSpeed } from '@flimzy/core/edits';
import { FigureField } from '../look/Field';

interface SpeedFieldProps {
  value: number;
  /** Sets it; whether that could be done. */
  onChange: (speed: number) => boolean;
  onStep?: (by: 1 | -1) => void;
  testID: string;
}

/** How fast a clip runs, as it can be typed. */
export function SpeedField({ value, onChange, testID, ...step }: SpeedFieldProps) {
  return (
    <FigureField
      label="Speed"
      testID={testID}
      value={saySpeed(value)}
      onSubmit={(text) => {
        const typed = typedSpeed(text);
        if (typed === null) return SPEED_HINT;
        return onChange(typed) ? null : 'It cannot go at that speed here.';
      }}
      {...step}
    />
  );
}
