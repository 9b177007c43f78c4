"""The trade: rules, arithmetic and judgement, with no interface, storage, network or clock."""
