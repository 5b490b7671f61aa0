export { cancelRunning, connect, type TestResult, testConnection } from './connect.ts'
export { type ConnectFailure, classifyFailure, describeFailure, SourceError, type Wording } from './failure.ts'
export { describeLocation, type Location, parseUrl, type TlsMode, urlOf } from './location.ts'
export { type SurveyOptions, survey, surveyClient, surveySummary } from './survey.ts'
