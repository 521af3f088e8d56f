import js from '@eslint/js'
import prettier from 'eslint-config-prettier'
import vue from 'eslint-plugin-vue'
import { defineConfig, globalIgnores } from 'eslint/config'
import globals from 'globals'
import ts from 'typescript-eslint'

export default defineConfig(
  globalIgnores(['dist/', 'src/api/*.gen.ts']),
  js.configs.recommended,
  ts.configs.recommended,
  vue.configs['flat/recommended'],
  {
    files: ['**/*.vue', '**/*.ts'],
    rules: { 'no-undef': 'off', 'vue/multi-word-component-names': 'off' },
    languageOptions: { globals: globals.browser, parserOptions: { parser: ts.parser, extraFileExtensions: ['.vue'] } },
  },
  { files: ['public/sw.js'], languageOptions: { globals: globals.serviceworker } },
  prettier,
)
