import js from '@eslint/js'
import prettier from 'eslint-config-prettier'
import a11y from 'eslint-plugin-jsx-a11y'
import hooks from 'eslint-plugin-react-hooks'
import globals from 'globals'
import ts from 'typescript-eslint'

export default ts.config(
  { ignores: ['dist', 'node_modules', 'src/api/schema.d.ts'] },
  js.configs.recommended,
  ...ts.configs.recommended,
  hooks.configs.flat['recommended-latest'],
  a11y.flatConfigs.recommended,
  prettier,
  {
    languageOptions: { globals: globals.browser },
    rules: {
      // A field within its label, whose control is a component of ours or of the library's.
      'jsx-a11y/label-has-associated-control': [
        'error',
        {
          controlComponents: [
            'Input',
            'Input.TextArea',
            'InputNumber',
            'Select',
            'AmountInput',
            'Degrees',
            'Checkbox',
            'Day',
            'Time',
          ],
          depth: 3,
        },
      ],
      // What scrolls can be scrolled by key.
      'jsx-a11y/no-noninteractive-tabindex': ['error', { tags: [], roles: ['region', 'tabpanel'] }],
      // A page that was opened to write something begins with the cursor where one writes.
      'jsx-a11y/no-autofocus': 'off',
      '@typescript-eslint/no-unused-vars': ['error', { ignoreRestSiblings: true, varsIgnorePattern: '^_' }],
      // The code breaks its lines itself; a string that is a sentence, a path of a drawing or a class may go on.
      'max-len': ['error', { code: 120, ignoreStrings: true, ignoreTemplateLiterals: true, ignoreUrls: true }],
    },
  },
)
