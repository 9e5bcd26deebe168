import hooks from 'eslint-plugin-react-hooks'
import a11y from 'eslint-plugin-jsx-a11y'
import tseslint from 'typescript-eslint'

const no = (...groups) => ({
  'no-restricted-imports': ['error', { patterns: groups.map((g) => ({ group: [g.glob], message: g.why })) }],
})
const apiless = { glob: '**/api/**', why: 'plot and ui know no server' }
const featureless = { glob: '**/features/**', why: 'plot and ui know no feature' }
const alone = { glob: '../../*/**', why: 'x' }

export default tseslint.config(
  { ignores: ['dist', 'src/api/schema.d.ts', '*.config.*'] },
  ...tseslint.configs.strict,
  a11y.flatConfigs.strict,
  { plugins: { 'react-hooks': hooks }, rules: hooks.configs.recommended.rules },
  { files: ['src/plot/**', 'src/ui/**'], rules: no(apiless, featureless) },
  { rules: { 'max-lines-per-function': ['error', { max: 150, IIFEs: true }] } },
)
