total = firstFare + secondFare + thirdFare + surchargeOfSeason + harbourDues + tax;
