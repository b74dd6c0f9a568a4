using Weir.Core.Definitions;

namespace Weir.Core.Pictures;

/// <summary>Areas of a map, coloured by a measure.</summary>
internal static class Map
{
    public static PictureKind Kind { get; } =
        new("map", "areas of a map, coloured by the measure; a member has the area whose property is its value")
        {
            Show = Slot.Of(1),
            By = Slot.Of(1),
            Own =
            [
                TipText.Own,
                new OwnKey(
                    new Key("areas", new Shape.Text(), "For a map: its file of areas, such as maps/sea-areas.geojson (GeoJSON, RFC 7946)."),
                    "not-map",
                    "Only a map has areas."
                )
                {
                    IsNeeded = true,
                },
                new OwnKey(
                    new Key(
                        "area_key",
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
