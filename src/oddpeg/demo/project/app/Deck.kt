val deck = listOf(SaltmarshSigns.LOUNGE, SaltmarshSigns.CAFE, SaltmarshSigns.LIFE_JACKET)
