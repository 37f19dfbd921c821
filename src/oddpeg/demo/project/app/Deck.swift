let deck = [SaltmarshSigns.lounge.rawValue, SaltmarshSigns.stairsUp.rawValue]
