export declare const median: (values: readonly number[]) => number
