namespace Weir.Core.Definitions;

/// <summary>What the dashboard of one file may name: for whoever writes it nothing else exists, not in what is told of faults either.</summary>
/// <param name="Path">The path of the file.</param>
/// <param name="Datasets">The datasets, with the fields, measures and parameters that are seen of them.</param>
/// <param name="Catalogues">The catalogues, with the tiles that are seen of them.</param>
public sealed record NamesSeen(
    string Path,
    IReadOnlyDictionary<string, Dataset> Datasets,
    IReadOnlyDictionary<string, Catalogue> Catalogues
);
