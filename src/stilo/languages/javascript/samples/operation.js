total = firstFare + secondFare + thirdFare + surcharge + dues + tax;
area = a + b + c;
if (late) return firstFare + secondFare + thirdFare + surcharge + dues;
