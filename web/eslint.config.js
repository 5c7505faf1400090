// Lints of the interface: what is wrong, and what somebody without a mouse or without sight could not use. Layout is Prettier's.
import js from '@eslint/js'
import prettier from 'eslint-config-prettier'
import vue from 'eslint-plugin-vue'
import accessibility from 'eslint-plugin-vuejs-accessibility'
import globals from 'globals'
import ts from 'typescript-eslint'

export default ts.config(
  { ignores: ['dist', 'src/api/schema.d.ts'] },
  js.configs.recommended,
  ...ts.configs.recommended,
  ...vue.configs['flat/recommended'],
  ...accessibility.configs['flat/recommended'],
  {
    files: ['**/*.{ts,vue}'],
    languageOptions: { globals: globals.browser, parserOptions: { parser: ts.parser } },
    rules: {
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/no-unused-vars': ['error', { varsIgnorePattern: '^_', argsIgnorePattern: '^_' }],
      // vue-tsc knows every name, and more of them.
      'no-undef': 'off',
      // Boxes that hear keys from the controls in them, and close at Escape.
      'vuejs-accessibility/no-static-element-interactions': 'off',
      // In lists and the grid the focus stays in one place and names what is active (aria-activedescendant).
      'vuejs-accessibility/interactive-supports-focus': 'off',
      // What was just opened takes the focus.
      'vuejs-accessibility/no-autofocus': ['error', { ignoreNonDOM: true }],
      // A control inside its label needs no second tie.
      'vuejs-accessibility/label-has-for': ['error', { required: { some: ['nesting', 'id'] }, controlComponents: ['PickOne'] }],
    },
  },
  prettier,
)
