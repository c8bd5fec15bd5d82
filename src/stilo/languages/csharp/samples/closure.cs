Sail sail = harbour => theTimetableOfTheSummerOfTheFerryCompany;
Sail moor = harbour => 1;
