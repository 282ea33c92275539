// What is wrong in scripts whatever they do; how they look is prettier's.
import js from '@eslint/js'
import globals from 'globals'

export default [
  { ignores: ['web/dist/', 'node_modules/', '.tools/', '.data/', 'bench/lighthouse/node_modules/'] },
  js.configs.recommended,
  {
    rules: {
      eqeqeq: ['error', 'always', { null: 'ignore' }],
      'no-implicit-globals': 'error',
      'no-var': 'error',
      'prefer-const': ['error', { destructuring: 'all' }],
      'max-lines': ['error', 400],
    },
  },
  // What runs in browsers.
  { files: ['web/scripts/**', 'pieces/**/*.js'], languageOptions: { globals: { ...globals.browser } } },
  // What runs on Node.js; the browser tests hand functions to pages.
  {
    files: ['e2e/**', 'scripts/**', 'bench/**', 'web/*.mjs', 'web/tests/**', '*.mjs'],
    languageOptions: { globals: { ...globals.node, ...globals.browser } },
  },
]
