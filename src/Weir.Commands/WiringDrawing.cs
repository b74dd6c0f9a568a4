using System.Globalization;
using System.Net;
using System.Text;
using Weir.Core.Definitions;
using Weir.Service;
using Weir.Service.Api;
using Weir.Service.Publishing;
using Weir.Service.SignIn;

namespace Weir.Commands;

/// <summary>The wiring of a dashboard for people: as text, and as a drawing.</summary>
internal static class WiringDrawing
{
    private const int Column = 92;
    private const int Row = 34;
    private const int Gap = 8;

    /// <summary>A paragraph for each tile: what it drives, what it follows, and what does not reach it and why.</summary>
    public static string Text(DashboardPage page, IReadOnlyList<WireInfo> lines)
    {
        var text = new StringBuilder($"{page.Title}\n");
        foreach (var tab in page.Tabs)
        {
            text.Append(CultureInfo.InvariantCulture, $"\nTab {tab.Title}\n");
            foreach (var group in tab.Groups)
                text.Append(
                    CultureInfo.InvariantCulture,
                    $"  group {group.Name}: {string.Join(", ", tab.Tiles.Where(t => t.Group == group.Name).Select(t => t.Name))}; as a whole "
                        + $"it drives {(group.Drives == "list" ? string.Join(", ", group.DrivesTiles) : group.Drives)}\n"
                );
            foreach (var tile in tab.Tiles.Where(t => t.Dataset is not null))
            {
                var drives = lines.Where(l => l.Driver == tile.Name && l.Reason is null).Select(l => l.Follower).ToList();
                var into = lines.Where(l => l.Follower == tile.Name).ToList();
                text.Append(CultureInfo.InvariantCulture, $"  {tile.Name}{(tile.Hidden ? " (hidden)" : "")}\n");
                var driven = drives.Count == 0 ? "nothing" : string.Join(", ", drives);
                text.Append(
                    CultureInfo.InvariantCulture,
                    $"    drives   {(tile.Pick == "none" ? "nothing: nothing can be picked on it" : driven)}\n"
                );
                var followed = into.Where(l => l.Reason is null).Select(l => $"{l.Driver} by {string.Join(" and ", l.Fields)}").ToList();
                text.Append(
                    CultureInfo.InvariantCulture,
                    $"    follows  {(followed.Count == 0 ? "nothing" : string.Join(", ", followed))}\n"
                );
                foreach (var refused in into.Where(l => l.Reason is not null).GroupBy(l => l.Reason))
                    text.Append(
                        CultureInfo.InvariantCulture,
                        $"    not      {string.Join(", ", refused.Select(r => r.Driver))}: {Why(refused.Key!)}\n"
                    );
            }
        }
        return text.ToString().TrimEnd();
    }

    /// <summary>The wiring leads there, and yet the data have no field that links them.</summary>
    private const string Broken = "NoCounterpart";

    private static string Why(string reason) =>
        reason switch
        {
            "FollowsNone" => "this tile follows no other",
            "NotFollowed" => "this tile does not follow it",
            "OtherTab" => "it filters its own tab only",
            "OtherGroup" => "it filters its own group only",
            "NotDriven" => "it does not drive this tile",
            _ => "these data have no field that means what is picked there",
        };

    private readonly record struct Box(double X, double Y, double Width, double Height);

    private static string Arrow(WireInfo line, Box a, Box b)
    {
        var (x1, y1, x2, y2) = (a.X + (a.Width / 2), a.Y + (a.Height / 2), b.X + (b.Width / 2), b.Y + (b.Height / 2));
        // Bent to one side, so that the two ways of a pair are told apart.
        var (bx, by) = (((x1 + x2) / 2) - ((y2 - y1) * 0.12), ((y1 + y2) / 2) + ((x2 - x1) * 0.12));
        var stroke = line.Reason is null
            ? "stroke=\"#0F6E6E\" stroke-opacity=\"0.45\" marker-end=\"url(#end)\""
            : "stroke=\"#9A5B00\" stroke-dasharray=\"5 4\"";
        var title = line.Reason is null
            ? $"{line.Driver} drives {line.Follower} by {string.Join(" and ", line.Fields)}"
            : $"{line.Driver} does not reach {line.Follower}: {Why(Broken)}";
        var (nearX, nearY) = (x2 - ((x2 - x1) * 0.1), y2 - ((y2 - y1) * 0.1));
        return string.Create(
            CultureInfo.InvariantCulture,
            $"<path d=\"M{x1:0.#} {y1:0.#} Q{bx:0.#} {by:0.#} {nearX:0.#} {nearY:0.#}\" fill=\"none\" {stroke}>"
                + $"<title>{WebUtility.HtmlEncode(title)}</title></path>\n"
        );
    }

    /// <summary>The tabs below one another, each with its tiles where they stand and an arrow for each line.</summary>
    public static string Svg(DashboardPage page, IReadOnlyList<WireInfo> lines)
    {
        var boxes = new Dictionary<string, Box>();
        var body = new StringBuilder();
        var top = 30.0;
        foreach (var tab in page.Tabs)
        {
            body.Append(
                CultureInfo.InvariantCulture,
                $"<text x=\"{Gap}\" y=\"{top}\" font-weight=\"600\">{WebUtility.HtmlEncode(tab.Title)}</text>\n"
            );
            top += 10;
            // The side panel's controls stand in rows of six above the grid.
            var panel = tab.Tiles.Where(t => !t.Hidden && t.IsInPanel).ToList();
            var below = top + ((panel.Count + 5) / 6 * 1.5 * Row);
            foreach (var tile in tab.Tiles.Where(t => !t.Hidden))
            {
                var box = panel.IndexOf(tile) is var at and >= 0 ? InPanel(at, top) : InGrid(tile.Place, below);
                boxes[tile.Name] = box;
                var isFree = tile.Dataset is null || lines.All(l => l.Follower != tile.Name || l.Reason is not null);
                AddTile(body, tile.Name, box, isFree);
            }
            foreach (var group in tab.Groups)
                AddGroup(body, [.. tab.Tiles.Where(t => t.Group == group.Name && !t.Hidden).Select(t => boxes[t.Name])]);
            top = below + (tab.Tiles.Where(t => !t.IsInPanel).Select(t => t.Place.Row + t.Place.Height).DefaultIfEmpty(1).Max() * Row) + 30;
        }
        foreach (var line in lines.Where(l => l.Reason is null or Broken && boxes.ContainsKey(l.Driver) && boxes.ContainsKey(l.Follower)))
            body.Append(Arrow(line, boxes[line.Driver], boxes[line.Follower]));
        return string.Create(
            CultureInfo.InvariantCulture,
            $"""
            <svg xmlns="http://www.w3.org/2000/svg" width="{(12 * Column)
                + Gap}" height="{top}" font-family="Inter, system-ui, sans-serif" font-size="13" fill="#14212B">
            <title>{WebUtility.HtmlEncode($"Who drives whom on {page.Title}")}</title>
            <defs><marker id="end" viewBox="0 0 8 8" refX="7" refY="4" markerWidth="8" markerHeight="8" orient="auto">
            <path d="M0 0 L8 4 L0 8 z" fill="#0F6E6E"/></marker></defs>
            <rect width="100%" height="100%" fill="#F6F5F1"/>
            {body}</svg>
            """
        );
    }

    private static Box InPanel(int at, double top) =>
        new(X: Gap + (at % 6 * 2.0 * Column), Y: top + (at / 6 * 1.5 * Row), Width: (2.0 * Column) - Gap, Height: (1.5 * Row) - Gap);

    private static Box InGrid(Place place, double top) =>
        new(
            X: Gap + (place.Column * (double)Column),
            Y: top + (place.Row * (double)Row),
            Width: (place.Width * (double)Column) - Gap,
            Height: (place.Height * (double)Row) - Gap
        );

    /// <param name="isFree">True if nothing drives it.</param>
    private static void AddTile(StringBuilder body, string name, Box box, bool isFree) =>
        body.Append(
                CultureInfo.InvariantCulture,
                $"<rect x=\"{box.X}\" y=\"{box.Y}\" width=\"{box.Width}\" height=\"{box.Height}\" rx=\"6\" fill=\"#FFFFFF\" "
                    + $"stroke=\"{(isFree ? "#56646E" : "#0F6E6E")}\"{(isFree ? " stroke-dasharray=\"4 3\"" : "")}/>\n"
            )
            .Append(
                CultureInfo.InvariantCulture,
                $"<text x=\"{box.X + 6}\" y=\"{box.Y + 16}\" font-size=\"11\">{WebUtility.HtmlEncode(Short(name, (int)(box.Width / 6.5)))}</text>\n"
            );

    /// <summary>A line around the tiles of a group.</summary>
    private static void AddGroup(StringBuilder body, IReadOnlyList<Box> inside)
    {
        if (inside.Count == 0)
            return;
        var (left, top) = (inside.Min(b => b.X) - 4, inside.Min(b => b.Y) - 4);
        body.Append(
            CultureInfo.InvariantCulture,
            $"<rect x=\"{left}\" y=\"{top}\" width=\"{inside.Max(b => b.X + b.Width) + 4 - left}\" "
                + $"height=\"{inside.Max(b => b.Y + b.Height) + 4 - top}\" rx=\"8\" fill=\"none\" stroke=\"#9A5B00\"/>\n"
        );
    }

    private static string Short(string text, int most) => text.Length <= most ? text : text[..Math.Max(1, most - 1)] + "…";
}
