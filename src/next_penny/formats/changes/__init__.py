"""Changes as requests and kept what-ifs write them."""
