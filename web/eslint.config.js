import js from '@eslint/js'
import hooks from 'eslint-plugin-react-hooks'
import ts from 'typescript-eslint'

// what every folder may lean on; whoever leans on a feature does so by its index
const BASE = ['api', 'ui', 'store']
const OF_APP = { group: ['../app', '../app/*'], message: 'app is the frame: nothing inside of it knows it' }
const INSIDES = {
  group: ['../*/*', ...BASE.map((folder) => `!../${folder}/*`)],
  message: 'a feature is met by its index, not by its insides',
}
const FEATURES = {
  group: ['../*', '!../store', '!../api', '!../ui'],
  message: 'what everything leans on knows no feature',
}
const restricted = (...patterns) => ({ rules: { 'no-restricted-imports': ['error', { patterns }] } })

export default ts.config(
  { ignores: ['dist', 'src/api/schema.generated.ts'] },
  js.configs.recommended,
  ...ts.configs.strict,
  {
    plugins: { 'react-hooks': hooks },
    rules: { 'react-hooks/rules-of-hooks': 'error', 'react-hooks/exhaustive-deps': 'error' },
  },
  { files: ['src/**'], ignores: ['src/app/**', 'src/main.tsx'], ...restricted(INSIDES, OF_APP) },
  { files: ['src/app/**'], ...restricted(INSIDES) },
  { files: ['src/{api,ui}/**'], ignores: ['**/*.test*'], ...restricted(INSIDES, FEATURES) },
  { files: ['src/store/**'], ...restricted({ group: ['../*'], message: 'the stores lean on nothing' }) },
  {
    files: ['src/**/*.{ts,tsx}'],
    ignores: ['**/*.test*'],
    rules: { 'max-lines-per-function': ['error', { max: 120, skipBlankLines: true, skipComments: true }] },
  },
)
