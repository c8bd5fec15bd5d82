const sail = harbour => theTimetableOfTheSummerOfTheFerryCompany;
const moor = harbour => 1;
