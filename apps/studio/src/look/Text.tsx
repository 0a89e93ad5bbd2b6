import { Text as RNText, type TextProps } from 'react-native';

const KINDS = {
  title: 'font-displaybold text-[26px] leading-[30px] text-ink',
  heading: 'font-display text-[17px] leading-[22px] text-ink',
  body: 'font-text text-[15px] leading-[20px] text-ink',
  label: 'font-medium text-[13px] leading-[17px] text-ink',
  note: 'font-text text-[13px] leading-[18px] text-muted',
  small: 'font-medium text-[11px] leading-[14px] text-muted',
  figure: 'font-mono text-[13px] leading-[18px] text-ink',
  clock: 'font-mono text-[20px] leading-[26px] text-ink',
} as const;

/** Every text in the app: one of a few kinds, from the same three faces. */
export function Text({ kind = 'body', className = '', ...props }: TextProps & { kind?: keyof typeof KINDS; className?: string }) {
  return <RNText {...props} className={`${KINDS[kind]} ${className}`} />;
}
