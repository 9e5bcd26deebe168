import a11y from 'eslint-plugin-jsx-a11y'
import hooks from 'eslint-plugin-react-hooks'
import tseslint from 'typescript-eslint'

const no = (...groups) => ({
  'no-restricted-imports': ['error', { patterns: groups.map((g) => ({ group: [g.glob], message: g.why })) }],
})
const apiless = { glob: '**/api/**', why: 'plot and ui know no server' }
const featureless = { glob: '**/features/**', why: 'plot and ui know no feature' }

const method = (name) => `CallExpression > MemberExpression.callee[property.name='${name}']`
const formatters = [
  'toFixed',
  'toPrecision',
  'toLocaleString',
  'toLocaleDateString',
  'toLocaleTimeString',
].map((name) => ({
  selector: method(name),
  message: 'numbers and dates are shown by ui/numbers and ui/time',
}))
const typed = {
  selector: `CallExpression[callee.name='Number'] ${method('replace')}`,
  message: 'what people type is read by ui/numbers, which knows the decimal comma',
}
const inputs = ['checkbox', 'range'].map((type) => ({
  selector: `JSXOpeningElement[name.name='input'] > JSXAttribute[name.name='type'][value.value='${type}']`,
  message: 'ui has Tick and Slide',
}))

export default tseslint.config(
  { ignores: ['dist', 'src/api/schema.d.ts', '*.config.*'] },
  ...tseslint.configs.strict,
  a11y.flatConfigs.strict,
  {
    plugins: { 'react-hooks': hooks },
    rules: Object.fromEntries(Object.keys(hooks.configs.recommended.rules).map((rule) => [rule, 'error'])),
  },
  { files: ['src/plot/**', 'src/ui/**'], rules: no(apiless, featureless) },
  { files: ['src/**'], rules: { 'max-lines-per-function': ['error', { max: 150, IIFEs: true }] } },
  {
    files: ['src/**'],
    ignores: ['src/ui/**'],
    rules: { 'no-restricted-syntax': ['error', ...formatters, typed, ...inputs] },
  },
)
