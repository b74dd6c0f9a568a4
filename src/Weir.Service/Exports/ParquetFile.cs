using Parquet;
using Parquet.Schema;
using Weir.Core.Expressions;

namespace Weir.Service.Exports;

/// <summary>Results as columns of a Parquet file; what the file is stands in its metadata.</summary>
internal static class ParquetFile
{
    public static async Task<byte[]> Of(TakenTile tile, AboutExport about)
    {
        var table = FileTable.Of(tile);
        var rows = Enumerable.Range(0, table.Rows).Select(table.Row).ToList();
        var names = new HashSet<string>();
        var columns = table.Columns.Select((c, i) => ColumnOf(NameOf(c.Name), [.. rows.Select(r => r[i])])).ToList();
        using var memory = new MemoryStream();
        await using (var writer = await ParquetWriter.CreateAsync(new ParquetSchema(columns.Select(c => c.Field)), memory))
        {
            writer.CustomMetadata = new Dictionary<string, string>
            {
                ["title"] = tile.Info.Title,
                ["about"] = string.Join('\n', about.Lines().Prepend(about.Title)),
            };
            using var group = writer.CreateRowGroup();
            foreach (var column in columns)
                await column.Write(group);
        }
        return memory.ToArray();

        string NameOf(string name)
        {
            var free = name;
            for (var n = 2; !names.Add(free); n++)
                free = $"{name} {n}";
            return free;
        }
    }

    /// <summary>A column, and what writes its values.</summary>
    private sealed record Written(DataField Field, Func<ParquetRowGroupWriter, Task> Write);

    /// <summary>A column by what its values are; of several kinds, such as numbers and the words for the rest of a top N, it is text.</summary>
    private static Written ColumnOf(string name, IReadOnlyList<object?> values)
    {
        var given = values.OfType<object>().ToList();
        bool All<T>() => given.Count > 0 && given.All(v => v is T);
        Written Of<T>(DataField field, Func<object, T> read)
            where T : struct
        {
            var all = values.Select(v => v is null ? (T?)null : read(v)).ToArray();
            return new Written(field, group => group.WriteAsync<T>(field, new ReadOnlyMemory<T?>(all)));
        }
        if (All<bool>())
            return Of(new DataField<bool?>(name), v => (bool)v);
        if (All<long>())
            return Of(new DataField<long?>(name), v => (long)v);
        if (given.Count > 0 && given.All(v => v is long or int or decimal or double))
            return Of(new DataField<double?>(name), v => Convert.ToDouble(v, System.Globalization.CultureInfo.InvariantCulture));
        if (All<DateOnly>())
            return Of(
                new DateTimeDataField(name, DateTimeFormat.Date, isNullable: true),
                v => ((DateOnly)v).ToDateTime(TimeOnly.MinValue, DateTimeKind.Utc)
            );
        if (All<DateTime>())
            return Of(
                new DateTimeDataField(name, DateTimeFormat.DateAndTimeMicros, isNullable: true),
                v => DateTime.SpecifyKind((DateTime)v, DateTimeKind.Utc)
            );
        var text = new DataField<string>(name);
        IReadOnlyCollection<string?> texts = [.. values.Select(v => v is null ? null : v as string ?? Values.Write(v))];
        return new Written(text, group => group.WriteAsync(text, texts!));
    }
}
