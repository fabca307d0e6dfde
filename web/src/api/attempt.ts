// One thing at a time that may fail: what goes on, and the sentence that says why it did not.
import { ref } from 'vue'

export function useAttempt() {
  const busy = ref('')
  const problem = ref('')
  async function attempt(what: string, action: () => Promise<unknown>) {
    busy.value = what
    problem.value = ''
    try {
      await action()
    } catch (error) {
      problem.value = (error as Error).message
    } finally {
      busy.value = ''
    }
  }
  return { busy, problem, attempt }
}
