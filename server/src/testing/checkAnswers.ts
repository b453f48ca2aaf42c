import { checkAnswers } from '../http/serving.ts'

// Every answer that a test gets is held against the description of its route.
checkAnswers()
