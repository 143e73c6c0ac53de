using System.CommandLine;
using Nippers.Web.Commands;

var root = new RootCommand("Nippers: service hours, what is due, what was done.")
{
    ServeCommands.Serve(),
    ServeCommands.Demo(),
    FileCommands.Evaluate(),
    FileCommands.Export(),
    FileCommands.Import(),
    FileCommands.Backup(),
    FileCommands.Restore(),
    FileCommands.Rebuild(),
};
return await root.Parse(args).InvokeAsync();
