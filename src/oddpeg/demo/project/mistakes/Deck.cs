static class Deck
{
    static readonly string[] Signs = { SaltmarshSigns.Lift, SaltmarshSigns.StairsUp, SaltmarshSigns.StairsDwn };
}
