void call() {
    std::cout << "lane " << lane <<
        "\n";
}
