/** One way to set code, so that a diff shows what changed. */
export default { printWidth: 120, singleQuote: true, embeddedLanguageFormatting: 'off' };
