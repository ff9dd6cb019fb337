export { type FoundTrain, type FoundTrains, MOST_COUNTS, type TrainSearch, findTrains } from './trains';
export { toothCounts } from './counts';
export { MOST_VALUES, type Study, type StudyColumn, type StudyRange, type StudyRow, study, valuesOfRange } from './study';
