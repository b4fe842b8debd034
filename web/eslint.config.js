import js from '@eslint/js'
import prettier from 'eslint-config-prettier'
import vue from 'eslint-plugin-vue'
import ts from 'typescript-eslint'

export default ts.config(
  { ignores: ['node_modules', 'core', 'src/api/schema.d.ts'] },
  js.configs.recommended,
  ts.configs.recommended,
  vue.configs['flat/recommended'],
  { files: ['**/*.vue'], languageOptions: { parserOptions: { parser: ts.parser } } },
  { files: ['scripts/**'], languageOptions: { globals: { console: 'readonly', process: 'readonly' } } },
  { rules: { 'vue/multi-word-component-names': 'error', 'no-undef': 'off' } },
  prettier,
)
