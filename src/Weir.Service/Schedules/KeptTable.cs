using System.Globalization;
using System.Text;
using CsvHelper;
using Weir.Core.Results;
using Weir.Service.Exports;

namespace Weir.Service.Schedules;

/// <summary>
/// The figures of a tile, run after run, as a table that grows: delimited text (RFC 4180) that a source of files reads like any other. Each
/// line has the time at which the run was due, the run, and whether its condition held.
/// </summary>
internal static class KeptTable
{
    private const int MostBytes = 20 * 1024 * 1024;

    /// <summary>A heading and the lines of one run.</summary>
    /// <param name="isMet">Whether the condition held; null if that is unknown, or there is none.</param>
    public static byte[] Lines(Table table, DateTimeOffset due, string run, bool? isMet)
    {
        var rest = table.IndexOf(ColumnRole.Rest);
        int[] columns = [.. Enumerable.Range(0, table.Columns.Count).Where(c => c != rest)];
        using var text = new StringWriter(CultureInfo.InvariantCulture);
        using (var csv = CsvWriter.Create(text, new CsvWriterOptions(), true))
        {
            csv.WriteRecord(["at", "run", "met", .. columns.Select(c => table.Columns[c].Name.Replace('.', '_'))]);
            string[] first =
            [
                due.UtcDateTime.ToString("yyyy-MM-dd HH:mm:ss", CultureInfo.InvariantCulture),
                run,
                isMet is { } met ? (met ? "true" : "false") : "",
            ];
            foreach (var row in Enumerable.Range(0, table.Rows).Where(r => rest < 0 || table.Values[rest][r] is not true))
                csv.WriteRecord([.. first, .. columns.Select(c => CsvFile.Cell(table.Values[c][row]))]);
        }
        return Encoding.UTF8.GetBytes(text.ToString());
    }

    /// <summary>A table with the lines of another run; the same if it has them already.</summary>
    /// <param name="before">What it is; null if there is none yet.</param>
    /// <exception cref="NoWayException">It is full, or has other columns.</exception>
    public static string Grown(string name, string? before, string added, string run)
    {
        if (string.IsNullOrEmpty(before))
            return added;
        if (before.Contains($",{run},", StringComparison.Ordinal))
            return before;
        var end = added.IndexOf('\n', StringComparison.Ordinal) + 1;
        if (!before.StartsWith(added[..end], StringComparison.Ordinal))
            throw new NoWayException($"The table {name} has other columns than it had before: give it another name.", mayPass: false);
        if (before.Length + added.Length > MostBytes)
            throw new NoWayException($"The table {name} is full: it has {MostBytes / 1024 / 1024} MB at most.", mayPass: false);
        return before + added[end..];
    }
}
