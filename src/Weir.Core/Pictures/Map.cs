using Weir.Core.Definitions;

namespace Weir.Core.Pictures;

/// <summary>Areas of a map, coloured by a measure.</summary>
internal static class Map
{
    /// <summary>The file of areas.</summary>
    public static OwnKey Areas { get; } =
        new(
            new Key(
                "areas",
                new Shape.Text(),
                "For a map and places on one: its file of areas, such as maps/sea-areas.geojson (GeoJSON, RFC 7946)."
            ),
            "not-map",
            "Only a map and places on one have areas."
        )
        {
            IsNeeded = true,
        };

    public static PictureKind Kind { get; } =
        new("map", "areas of a map, coloured by the measure; a member has the area whose property is its value")
        {
            Show = Slot.Of(1),
            By = Slot.Of(1),
            Own =
            [
                TipText.Own,
                DrawnAs.Middle,
                Areas,
                new OwnKey(
                    new Key(
                        TileReader.AreaKey,
                        new Shape.Text(),
                        "For a map: the property of its areas that holds the field's values. name if left out."
                    ),
                    "not-map",
                    "Only a map has areas."
                )
                {
                    IsOption = true,
                },
            ],
        };
}
