/** A phone number as typed, and what it is: `e164` when it is one, otherwise the `problem` in words. */
export interface PhoneValue {
  country: string;
  typed: string;
  e164?: string;
  problem?: string;
}

export const noPhone: PhoneValue = { country: 'GB', typed: '', problem: 'Type the number.' };
export const phoneOf = (e164: string | undefined): PhoneValue =>
  e164 === undefined ? noPhone : { country: 'GB', typed: e164, e164 };

export interface PhoneInputProps {
  label: string;
  /** For screen readers, when the label alone would be ambiguous; must begin with the label. */
  describe?: string;
  value: PhoneValue;
  onChange: (value: PhoneValue) => void;
  hint?: string;
  error?: string | undefined;
  /** Enter was pressed in it. */
  onSubmit?: (() => void) | undefined;
}
