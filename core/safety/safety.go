// Package safety holds the barn's food-safety lines: the kinds of meat, what each
// must reach, and the tables of time and temperature. The defaults follow public
// guidance in the United States; a barn may set stricter ones. Local codes and
// licensed practice come first.
package safety

// Source names the guidance behind the minimum temperatures.
const Source = "USDA FSIS Safe Minimum Internal Temperature Chart; FDA Food Code 2022, 3-401. Check the current edition and your local code."
