export { type FoundTrain, type FoundTrains, MOST_COUNTS, type TrainSearch, findTrains } from './trains';
export { toothCounts } from './counts';
