/** One way to set code, so that a diff shows what changed. */
export default {
  printWidth: 120,
  singleQuote: true,
  embeddedLanguageFormatting: 'off',
  // Prettier's own second parser: the same format in half the time.
  plugins: ['@prettier/plugin-oxc'],
};
