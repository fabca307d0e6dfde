import vue from 'eslint-plugin-vue'
import ts from 'typescript-eslint'

export default ts.config(
  { ignores: ['src/api/schema.d.ts', 'src/auto-imports.d.ts', 'src/components.d.ts'] },
  ...ts.configs.recommended,
  ...vue.configs['flat/essential'],
  { files: ['src/**/*.vue'], languageOptions: { parserOptions: { parser: ts.parser } } },
  { rules: { 'vue/multi-word-component-names': 'off', 'vue/no-v-html': 'off', 'vue/no-v-text-v-html-on-component': ['error', { allow: ['g'] }] } },
)
