length = (lorries
      + trailers + bicycles
      + gaps_between_lorries + gaps_between_trailers)
