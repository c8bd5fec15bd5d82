sell(passenger, price_of_ticket + tax_of_the_harbour_of_arrival + fee_of_the_line)
