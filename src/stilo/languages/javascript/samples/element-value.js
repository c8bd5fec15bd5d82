const board = <Board first={sailings.find(sailing => sailing.isOpen) || sailings.first || nothing} />;
