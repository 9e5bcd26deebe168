import { useSuspenseQuery } from '@tanstack/react-query'
import { coursesQuery } from '../../shared/who'
import { Empty, Page, PageHead, Stack, Two } from '../../ui/layout'
import { BringIn } from './BringIn'
import { Courses } from './Courses'

/** An instructor's own courses: opened, and filled with learners. */
export function ClassesPage() {
  const { data: courses } = useSuspenseQuery(coursesQuery)
  return (
    <Page>
      <PageHead title="Courses" about={courses.length === 1 ? 'one course' : `${courses.length} courses`} />
      <Two>
        <Stack>
          <Courses mayMove={(p) => p.role === 'learner'} />
        </Stack>
        {courses.length > 0 ? (
          <BringIn courses={courses} everyRole={false} />
        ) : (
          <Empty>
            <p>Open a course first; then learners are brought into it here.</p>
          </Empty>
        )}
      </Two>
    </Page>
  )
}
