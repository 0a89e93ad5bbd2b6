const token = (name) => `rgb(var(--${name}) / <alpha-value>)`;

/** @type {import('tailwindcss').Config} */
module.exports = {
  content: ['./app/**/*.tsx', './src/**/*.{ts,tsx}'],
  presets: [require('nativewind/preset')],
  theme: {
    extend: {
      colors: Object.fromEntries(
        ['ground', 'panel', 'raised', 'hairline', 'ink', 'muted', 'signal', 'speech', 'music', 'effects', 'warn', 'paper', 'onpaper'].map(
          (name) => [name, token(name)],
        ),
      ),
      fontFamily: {
        display: ['BricolageGrotesque_600SemiBold'],
        displaybold: ['BricolageGrotesque_700Bold'],
        text: ['InstrumentSans_400Regular'],
        medium: ['InstrumentSans_500Medium'],
        strong: ['InstrumentSans_600SemiBold'],
        mono: ['DMMono_400Regular'],
        monomedium: ['DMMono_500Medium'],
      },
    },
  },
};
